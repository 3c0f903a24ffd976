using System.Globalization;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Preparing;

/// <summary>What the tracks that go are called where they arrive.</summary>
public static class DeliveredNames
{
    /// <summary>By track id, without extension; unique and legal everywhere.</summary>
    public static IReadOnlyDictionary<string, string> Of(Session session, Preparation preparation)
    {
        var texts = Texts(session, preparation);
        return LegalName.Unique(texts.Values.Select(LegalName.From)).Zip(texts.Keys).ToDictionary(p => p.Second, p => p.First);
    }

    /// <summary>The same as words, where no file system restrains them.</summary>
    public static IReadOnlyDictionary<string, string> Texts(Session session, Preparation preparation)
    {
        var going = Going(session, preparation);
        var (cleaned, facts) = (Cleaned(session, preparation), new Facts(session, preparation, going.Count));
        return going.Select((choice, i) => (choice.TrackId, Text: NamePattern.Fill(preparation.NamePattern, facts.Of(choice, i + 1, choice.Name ?? cleaned[choice.TrackId]))))
            .ToDictionary(p => p.TrackId, p => p.Text);
    }

    /// <summary>By track id, the names of the tracks that go, without what cleaning takes off; a number in front counts as order only where the pattern has one.</summary>
    public static IReadOnlyDictionary<string, string> Cleaned(Session session, Preparation preparation)
    {
        var tracks = session.Tracks.ToDictionary(t => t.Id);
        var going = Going(session, preparation);
        var rules = preparation.Cleaning with { Numbers = preparation.Cleaning.Numbers && NamePattern.Has(preparation.NamePattern, NamePattern.Order) };
        return going.Zip(NameCleaner.Clean([.. going.Select(c => tracks[c.TrackId].Name)], rules)).ToDictionary(p => p.First.TrackId, p => p.Second);
    }

    /// <summary>Ids of tracks whose names would be another's as files, and got a number therefore.</summary>
    public static IReadOnlySet<string> Collided(Session session, Preparation preparation)
    {
        var names = Of(session, preparation);
        return Texts(session, preparation).Where(t => LegalName.From(t.Value) != names[t.Key]).Select(t => t.Key).ToHashSet();
    }

    /// <summary>What the fields of the pattern stand for on a row.</summary>
    /// <param name="session">Whose track it is.</param>
    /// <param name="preparation">With the row.</param>
    /// <param name="choice">The row; null for a file of no track, such as the click.</param>
    /// <param name="order">Its number.</param>
    /// <param name="name">Its own name.</param>
    public static NameFields Fields(Session session, Preparation preparation, TrackChoice? choice, int order, string name) =>
        new Facts(session, preparation, Going(session, preparation).Count).Of(choice, order, name);

    private static List<TrackChoice> Going(Session session, Preparation preparation)
    {
        var tracks = session.Tracks.Select(t => t.Id).ToHashSet();
        return [.. preparation.Tracks.Where(c => c.Treatment.IsNamed() && tracks.Contains(c.TrackId))];
    }

    private static string Number(double value) => value.ToString("0.###", CultureInfo.InvariantCulture);

    /// <summary>What is the same for all names.</summary>
    private sealed class Facts
    {
        private readonly Dictionary<string, Track> _tracks;
        private readonly TrackRoles _roles;
        private readonly NameFields _all;
        private readonly int _going;
        private readonly Preparation _preparation;
        private readonly SampleRate _rate;
        private readonly Session _session;

        public Facts(Session session, Preparation preparation, int going)
        {
            (_session, _tracks, _roles, _going, _preparation, _rate) = (session, session.Tracks.ToDictionary(t => t.Id), TrackRoles.Of(session), going, preparation, session.Rate);
            var music = SteadyMusic.Of(session);
            _all = new NameFields(0, 0, string.Empty, session.Name)
            {
                Tempo = music.Tempo is { } tempo ? Number(tempo.ToDouble()) : string.Empty,

                // No system refuses the word.
                Key = music.Key?.Replace("#", "sharp", StringComparison.Ordinal) ?? string.Empty,
                Version = preparation.Version ?? string.Empty,
                Date = preparation.Date?.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture) ?? string.Empty,
            };
        }

        private NameFields Formed(TrackChoice? choice)
        {
            var kind = choice is null ? FileKind.Click : FileKinds.Of(_tracks[choice.TrackId]);
            var form = FileForm.Of(_preparation, kind, _rate);
            return _all with
            {
                Rate = Number(form.Rate.HeaderHz / 1000.0) + "k",
                Depth = form.Encoding.IsFloat() ? $"{form.Encoding.Bits()}float" : $"{form.Encoding.Bits()}bit",
            };
        }

        public NameFields Of(TrackChoice? choice, int order, string name)
        {
            var named = Formed(choice) with { Order = order, Digits = (choice is null ? order : _going) > 99 ? 3 : 2, Track = name };
            return choice is null ? named : named with
            {
                Take = _tracks[choice.TrackId] is { Lanes.Count: > 1, Sounding: { } lane } track && track.Lanes.Count(l => !_session.IsUnsent(l)) > 1 ? lane.Name : string.Empty,
                Group = StemNames.Of(choice, _tracks, _roles),
                Treatment = choice.Treatment.NameWord(),
            };
        }
    }
}
