using System.Globalization;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Core.Routing;

/// <summary>Every setting of a session's tracks, to set them up by elsewhere: what stands at its default too, so that nothing has to be guessed.</summary>
public static class TrackSettings
{
    /// <summary>In the order of the tracks, and of the sound's way through each. A track that only holds a picture has none.</summary>
    public static IReadOnlyList<TrackSetting> Of(Session session)
    {
        var names = session.Tracks.ToDictionary(t => t.Id, t => t.Name);
        var master = session.Tracks.FirstOrDefault(t => t.Kind == TrackKind.Master)?.Name ?? "the master";
        return [.. session.Tracks.Select((t, i) => (Track: t, Number: i + 1)).Where(t => t.Track.Kind != TrackKind.Picture).SelectMany(t => Of(t.Track, t.Number, names, master))];
    }

    /// <summary>A pan as people say it: <c>centre</c>, <c>30 % left</c>.</summary>
    public static string Pan(double pan) => pan == 0 ? "centre" : string.Create(CultureInfo.InvariantCulture, $"{Math.Abs(pan) * 100:0.#} % {(pan < 0 ? "left" : "right")}");

    private static IEnumerable<TrackSetting> Of(Track track, int number, Dictionary<string, string> names, string master)
    {
        TrackSetting Row(string what, string value, string of = "", bool off = false) => new(number, track.Name, what, of, value, off);
        string Name(string id) => names.GetValueOrDefault(id, id);
        if (track.Inverted)
        {
            yield return Row("polarity", "inverted");
        }

        foreach (var (insert, i) in track.Inserts.Select((insert, i) => (insert, i)))
        {
            yield return Row("effect", Values(insert), $"{i + 1} {insert.Effect}", insert.Bypassed);
        }

        yield return Row("fader", $"{Decibels.Words(track.FaderDb, 2)} dB");
        if (track.FaderAutomation is { } ride)
        {
            yield return Row("rides", Curve(ride, v => $"{Decibels.Words(v, 2)}", " dB"));
        }

        if (track.Kind != TrackKind.Master)
        {
            yield return Row("pan", Pan(track.Pan));
        }

        if (track.PanAutomation is { } moves)
        {
            yield return Row("pan rides", Curve(moves, Pan, string.Empty));
        }

        foreach (var send in track.Sends)
        {
            var level = send.LevelAutomation is { } sent ? $", {Curve(sent, v => Decibels.Words(v, 2), " dB")}" : string.Empty;
            yield return Row("send", $"{Decibels.Words(send.LevelDb, 2)} dB {(send.PreFader ? "before" : "after")} the fader{(send.Pan == 0 ? string.Empty : $", {Pan(send.Pan)}")}{level}", Name(send.Target));
        }

        if (track.Kind != TrackKind.Master)
        {
            yield return Row("feeds", track.Output is { } output ? Name(output) : master);
        }
    }

    private static string Values(Insert insert) => insert.Parameters.Count == 0 ? "no values are known" : string.Join("; ", insert.Parameters.Select(p => string.Create(CultureInfo.InvariantCulture, $"{p.Name} {p.Value:0.####}")));

    private static string Curve(Automation curve, Func<double, string> words, string unit)
    {
        var values = curve.Points.Select(p => p.Value).DefaultIfEmpty(0).ToList();
        return $"{Phrases.Count(curve.Points.Count, "point")}, {words(values.Min())} to {words(values.Max())}{unit}";
    }
}
