using System.IO.Compression;
using System.Text.Json;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Proof;
using Lyrotrans.Storage;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Keeping;
using Lyrotrans.Web.Keys;
using Lyrotrans.Workflow.Handing;
using Lyrotrans.Workflow.Proving;
using Lyrotrans.Workflow.Signing;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Web.Links;

/// <summary>Puts the report of a handover together, and signs it with the room's key.</summary>
public sealed class ReportDesk(LyroContext database, DeskLoader desks, PackageStore packages, RoomKeys keys, TimeProvider clock)
{
    /// <summary>The report and its signature in one zip; null where the package is not kept as its files, or without its proof.</summary>
    /// <param name="build">That the person may see.</param>
    /// <param name="person">Who asks for it.</param>
    /// <param name="stop">Stops it.</param>
    public async Task<(string Name, byte[] Zip)?> MakeAsync(PackageBuild build, Account person, CancellationToken stop)
    {
        if (packages.Sent(build) is not { } package || packages.Proof(build.Id) is not { } kept)
        {
            return null;
        }

        var transfer = await database.Transfers.AsNoTracking().SingleAsync(t => t.Id == build.TransferId, stop);
        var room = await database.Rooms.AsNoTracking().SingleAsync(r => r.Id == transfer.RoomId, stop);
        var key = await keys.OfAsync(room.Id, stop);
        await using var proof = kept.Open();
        var marks = await database.HeardMarks.AsNoTracking().Where(m => m.BuildId == build.Id).OrderBy(m => m.Id).ToListAsync(stop);
        var sounds = (await desks.PlanAsync(build, stop)).Plan.Files.Where(f => f.IsSound).Select(f => f.Path).ToList();
        var heard = marks.Select(m => m.Path).ToHashSet();
        var page = HandoverReport.Write(new ReportFacts
        {
            Room = room.Name,
            Receiver = build.ReceiverName,
            Package = build.FileName!,
            Revision = build.Revision,
            BuiltBy = build.By,
            FollowUp = package.FollowUp,
            Manifest = package.Manifest,
            Files = [.. package.Files.Select(f => (f.Path, f.Bytes, f.Sha256))],
            ManifestSha256 = build.ManifestSha256!,
            Proof = (await JsonSerializer.DeserializeAsync<ProofReport>(proof, ProofJson.Options, stop))!,
            HeardWords = HeardWords.Of(sounds, marks),
            Heard = [.. marks.Select(m => new ReportLine(m.At, m.By, m.Kind == HeardKind.Fault ? $"a fault in {m.Path} at sample {Digits.Grouped(m.Sample)}{(m.Words.Length > 0 ? $": {m.Words}" : string.Empty)}" : $"{m.Path} heard"))],
            NotHeard = [.. sounds.Where(s => !heard.Contains(s))],
            Happened = await HappenedAsync(build, stop),
            Key = key.Public,
            WrittenBy = person.Name,
            Written = clock.GetUtcNow(),
        });
        var name = HandoverReport.NameOf(build.FileName!);
        return (Path.ChangeExtension(name, ".zip"), Zipped((name, page), (HandoverReport.SignatureOf(name), DetachedSignature.Sign(page, key, name).ToJson())));
    }

    private async Task<IReadOnlyList<ReportLine>> HappenedAsync(PackageBuild build, CancellationToken stop)
    {
        var links = await database.Links.AsNoTracking().Where(l => l.BuildId == build.Id).ToDictionaryAsync(l => l.Id, l => l.For.Length > 0 ? $"link for {l.For}" : "link", stop);
        var events = await database.LinkEvents.AsNoTracking().Where(e => links.Keys.Contains(e.LinkId)).OrderBy(e => e.Id).ToListAsync(stop);
        var folders = await database.FolderDeliveries.AsNoTracking().Where(d => d.BuildId == build.Id).ToListAsync(stop);
        return
        [
            .. events.Select(e => new ReportLine(e.At, e.Who, $"{links[e.LinkId]}: {LinkWords.Of(e)}"))
                .Concat(folders.Select(d => new ReportLine(d.CheckedAt ?? d.At, d.By, $"{d.Name} in the folder {d.Place}{(d.Within.Length > 0 ? $", {d.Within}" : string.Empty)}: {(d.Found.Length > 0 ? d.Found : d.Error ?? d.Doing)}")))
                .OrderBy(l => l.At),
        ];
    }

    private static byte[] Zipped(params (string Name, byte[] Bytes)[] files)
    {
        using var output = new MemoryStream();
        using (var zip = new ZipArchive(output, ZipArchiveMode.Create, leaveOpen: true))
        {
            foreach (var (name, bytes) in files)
            {
                using var entry = zip.CreateEntry(name).Open();
                entry.Write(bytes);
            }
        }

        return output.ToArray();
    }
}
