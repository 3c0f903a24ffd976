using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Workflow.Archiving;

/// <summary>The media of tracks, bit for bit as they came, to be copied out.</summary>
public static class OriginalFiles
{
    /// <param name="session">Whose tracks.</param>
    /// <param name="preparation">For the names that tracks are delivered under.</param>
    /// <param name="tracks">Their identifiers.</param>
    /// <param name="delivered">Whether files are called as their tracks are delivered, with a number where a track has several; else by their own names.</param>
    /// <param name="sizeOf">The size of a medium that is there; null for every other.</param>
    /// <returns>Each medium once, whichever take uses it.</returns>
    public static IReadOnlyList<ArchivedFile> Of(Session session, Preparation preparation, IReadOnlySet<string> tracks, bool delivered, Func<Media, long?> sizeOf)
    {
        var media = session.Media.ToDictionary(m => m.Id);
        var names = delivered ? DeliveredNames.Of(session, preparation) : new Dictionary<string, string>();
        var taken = new TakenNames(SameName.Comparer);
        var files = new List<ArchivedFile>();
        var seen = new HashSet<string>();
        foreach (var track in session.Tracks.Where(t => tracks.Contains(t.Id)))
        {
            var used = track.Lanes.SelectMany(l => l.Clips).Select(c => c.Media).Distinct().Select(id => media[id]).Where(m => m.Sha256 is not null).ToList();
            foreach (var (medium, place) in used.Select((m, i) => (m, i)))
            {
                if (sizeOf(medium) is { } bytes && seen.Add(medium.Sha256!))
                {
                    var name = delivered ? $"{names.GetValueOrDefault(track.Id, LegalName.From(track.Name))}{(used.Count > 1 ? FormattableString.Invariant($"_{place + 1:00}") : string.Empty)}{Path.GetExtension(medium.ShortName)}" : LegalName.From(Path.GetFileNameWithoutExtension(medium.ShortName)) + Path.GetExtension(medium.ShortName);
                    files.Add(new ArchivedFile(taken.FreeFile(name, '_'), medium.Sha256!, bytes));
                }
            }
        }

        return files;
    }
}
