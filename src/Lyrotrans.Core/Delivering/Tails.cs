using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Delivering;

/// <summary>How long a track's sound lives on in the files that it goes into, in session samples.</summary>
public sealed class Tails
{
    /// <summary>The longest that effects are let sound on, where a preparation does not say.</summary>
    public const int UsualLimitSeconds = 20;

    /// <summary>How long a stand-in instrument may sound after the key is let go.</summary>
    public const int InstrumentSeconds = 4;

    private readonly Session _session;
    private readonly Preparation _preparation;
    private readonly SignalPaths _paths;
    private readonly Dictionary<string, Treatment> _treatments;
    private readonly List<Track> _printedTargets;
    private readonly TrackRoles _roles;
    private readonly IReadOnlySet<string> _inMix;

    public Tails(Session session, Preparation preparation)
    {
        _session = session;
        _preparation = preparation;
        _paths = SignalPaths.Of(session);
        _roles = TrackRoles.Of(session);
        _inMix = MixTracks.AreNeeded(session, preparation) ? MixTracks.Of(session, preparation) : new HashSet<string>();
        _treatments = preparation.Tracks.ToDictionary(c => c.TrackId, c => c.Treatment);
        _printedTargets = session.Tracks.Where(t => t.Kind is TrackKind.Bus or TrackKind.Return && _treatments.GetValueOrDefault(t.Id, Treatment.HoldBack).IsPrint()).ToList();
    }

    /// <summary>The limit in force.</summary>
    public long Limit => _preparation.LongestTail ?? _session.Rate.SamplesIn(UsualLimitSeconds).RoundToEven();

    /// <summary>Whether a track that does not go by itself is heard in what does: the guide mix, or the print of a return or bus.</summary>
    public bool IsHeard(Track track) => track.Kind.IsSource() && _inMix.Contains(track.Id);

    /// <summary>Until 120 dB below the sound, in every file that the track goes into; not limited.</summary>
    public long Of(Track track)
    {
        var treatment = _treatments.GetValueOrDefault(track.Id, Treatment.HoldBack);
        if ((treatment == Treatment.HoldBack && !IsHeard(track)) || _paths.Circle is not null)
        {
            return 0;
        }

        track = _roles.Sounding(track);
        var own = treatment.IsThrough() ? _paths.TailOf(track) : 0;
        var returns = _printedTargets.Select(t => _paths.TailTo(track, t) ?? 0).DefaultIfEmpty(0).Max();
        var mix = !_preparation.Mix.HasMix ? 0
            : (_paths.TailTo(track, _paths.Master) ?? 0) - (_preparation.Mix is { Master: StemMaster.Before, Finished: false } ? _paths.TailOf(_paths.Master) : 0);
        var sounds = Math.Max(own, Math.Max(returns, mix));
        var plays = track.Kind == TrackKind.Notes && (treatment == Treatment.NotesAndPrint || _printedTargets.Count > 0 || _preparation.Mix.HasMix);
        return sounds + (plays ? _session.Rate.SamplesIn(InstrumentSeconds).RoundToEven() : 0);
    }
}
