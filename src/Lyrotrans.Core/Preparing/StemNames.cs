using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Preparing;

/// <summary>What the stem is called that a row of the track sheet goes into.</summary>
public static class StemNames
{
    private const string Rest = "Other tracks";

    /// <summary>The one typed in, else the bus that its track feeds, else the rest; a stem that came along, or the print of a bus or return, by its own name.</summary>
    /// <param name="choice">The row.</param>
    /// <param name="tracks">The session's tracks by their ids.</param>
    /// <param name="roles">What stands for what in it.</param>
    public static string Of(TrackChoice choice, IReadOnlyDictionary<string, Track> tracks, TrackRoles roles)
    {
        var track = tracks[choice.TrackId];
        return choice.Group
            ?? (track.Kind == TrackKind.Stem ? track.Of.Count == 1 ? tracks[track.Of[0]].Name : track.Name
            : !track.Kind.IsSource() && roles.PrintOf(track.Id) is not null ? track.Name
            : track.Output is { } output && tracks.TryGetValue(output, out var bus) && bus.Kind == TrackKind.Bus ? bus.Name
            : Rest);
    }
}
