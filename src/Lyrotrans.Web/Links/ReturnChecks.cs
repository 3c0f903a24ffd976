using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Naming;
using Lyrotrans.Files;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Jobs;
using Lyrotrans.Web.Keeping;
using Lyrotrans.Workflow.Arriving;
using Lyrotrans.Workflow.Returning;
using Lyrotrans.Workflow.Running;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Links;

/// <summary>Looks at the sound of what came back by a link; nothing of it moves.</summary>
public sealed class ReturnChecks(LyroContext database, ReturnDesk returns, PackageStore packages, PackageMarks marks, DeskLoader desks) : IReturnChecks
{
    /// <summary>So many sounds are looked at; each takes seconds.</summary>
    public const int MostSounds = 500;
    private const double ReadingTakes = 0.3;

    public async Task<string> LookAsync(Guid check, WorkPulse pulse)
    {
        var row = await database.ReturnChecks.SingleAsync(c => c.Id == check, pulse.Stop);
        var link = await database.Links.AsNoTracking().SingleAsync(l => l.Id == row.LinkId, pulse.Stop);
        var build = await database.Builds.AsNoTracking().SingleAsync(b => b.Id == link.BuildId, pulse.Stop);
        var files = (await returns.OfAsync([link.Id], pulse.Stop)).Where(f => f.State == ReturnState.Here).ToList();
        var package = packages.ToCompare(build);
        var folder = Path.Combine(returns.FolderOf(link), $"{check:N}.looked");
        LaidFiles.Clear(folder);
        try
        {
            pulse.Report(new WorkProgress(0, "reading what was sent"));
            Directory.CreateDirectory(folder);
            var sent = SentPackage.Of(package.Files, (await desks.PlanAsync(build, pulse.Stop)).Plan, folder, pulse.Stop);
            var laid = new LaidFiles(Math.Min(link.ReturnBytes, returns.Room));
            var all = files.SelectMany(f => laid.Of(returns.PathOf(f), f.Name, Path.Combine(folder, f.Id.ToString("N")), pulse.Stop).Select(l => (File: f.Id, Entry: l))).ToList();
            var sounds = all.Where(f => f.Entry.Problem is null && IsSound(f.Entry.Path)).ToList();
            var back = sounds.Take(MostSounds).Select(f => (f.File, Sound: new SoundFileOf(f.Entry.Name, new DiskFile(f.Entry.Path)))).ToList();
            var known = marks.Of(build.Id, sent, f => pulse.Report(new WorkProgress(ReadingTakes * f, "reading what was sent")), pulse.Stop);
            var found = Returned.Look(sent, [.. back.Select(b => b.Sound)], p => pulse.Report(p with { Fraction = ReadingTakes + ((1 - ReadingTakes) * p.Fraction) }), pulse.Stop, known);
            var bad = all.Where(f => f.Entry.Problem is not null).Select(f => CameBackRow.Unread(f.File, f.Entry.Name, f.Entry.Problem!.Text));
            row.Report = CameBackDesk.Kept([.. bad, .. found.Zip(back, (f, b) => CameBackRow.Of(b.File, f, sent))]);
            await database.SaveChangesAsync(pulse.Stop);
            return Words(sounds.Count, back.Count, all.Count(f => f.Entry.Problem is null) - sounds.Count);
        }
        catch (FileNotFoundException)
        {
            throw new BadInputException(FileCodes.Missing, string.Empty, string.Empty, "A file was taken or thrown away while it was looked at.", "Compare again.");
        }
        finally
        {
            LaidFiles.Clear(folder);
        }
    }

    private static string Words(int sounds, int looked, int others)
    {
        var words = looked < sounds ? $"The first {Digits.Grouped(looked)} of {Phrases.Count(sounds, "sound")} were looked at." : $"{Phrases.Count(sounds, "sound")} looked at.";
        return others == 0 ? words : $"{words} {Phrases.Count(others, "other file")} {(others == 1 ? "is" : "are")} no sound and not compared.";
    }

    private static bool IsSound(string path)
    {
        using var stream = File.OpenRead(path);
        return ContentSniffer.Recognise(stream) is ContentKind.Wave or ContentKind.Aiff or ContentKind.Flac or ContentKind.Ogg or ContentKind.Mp3 or ContentKind.Empty;
    }
}
