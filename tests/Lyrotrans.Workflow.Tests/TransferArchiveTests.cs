using System.Security.Cryptography;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Workflow.Archiving;
using Lyrotrans.Workflow.Intake;

namespace Lyrotrans.Workflow.Tests;

/// <summary>What the archive of a transfer needs so that it opens whole.</summary>
public class TransferArchiveTests
{
    private readonly Dictionary<string, byte[]> _documents = [];

    private static string Sum(string of) => Convert.ToHexStringLower(SHA256.HashData(System.Text.Encoding.UTF8.GetBytes(of)));

    private string Keep(byte[] document)
    {
        var sha256 = Convert.ToHexStringLower(SHA256.HashData(document));
        _documents[sha256] = document;
        return sha256;
    }

    private static IntakeItem Item(string name, string of) => new() { Id = of, Name = name, Sha256 = Sum(of) };

    private ArchivedRevision Revision(int number, IntakeState intake, Session session) =>
        new(number, number - 1, $"change {number}", string.Empty, "Sending engineer", DateTimeOffset.UnixEpoch, Keep(intake.ToJson()), Keep(SessionDocumentWriter.Write(session)), Keep("{}"u8.ToArray()));

    private TransferArchive Of(int current, params ArchivedRevision[] revisions) =>
        TransferArchive.Of("Lantern suite", "Lantern House", current, revisions, s => _documents[s], s => s == Sum("gone") ? null : 100 + s[0]);

    [Fact]
    public void Everything_that_any_revision_needs_is_in_it_once_and_what_nobody_has_is_named()
    {
        var joined = new ChannelEdit(["l", "r"], "Hall", [new JoinedMedium([], "Hall.wav", Sum("joined"))], []);
        var session = new Session { Name = "s", Media = [new Media { Id = "m", FileName = "inside.wav", Length = 1, Place = MediaPlace.Embedded, Sha256 = Sum("inside") }, new Media { Id = "n", FileName = "lost.wav", Length = 1, Place = MediaPlace.Missing, Sha256 = Sum("lost") }] };
        var archive = Of(
            2,
            Revision(1, new IntakeState { Items = [Item("tapes/horn.wav", "horn, first"), Item("gone.wav", "gone")] }, session with { Media = [] }),
            Revision(2, new IntakeState { Items = [Item("tapes/horn.wav", "horn"), Item("../out.wav", "out")], ChannelEdits = [joined] }, session));
        Assert.Equal(
            [("originals/tapes/horn.wav", Sum("horn")), ($"earlier/{Sum("out")}", Sum("out")), ($"earlier/{Sum("horn, first")}", Sum("horn, first")), ("made/Hall.wav", Sum("joined")), ("made/inside.wav", Sum("inside"))],
            archive.Originals.Select(o => (o.Path, o.Sha256)));
        Assert.Equal(["gone.wav"], archive.Missing);
        Assert.Equal(5, archive.Documents.Count);

        // As it is read again.
        var read = TransferArchive.FromJson(archive.ToJson(), "x");
        Assert.Equal(archive.Originals, read.Originals);
        Assert.Equal(archive.Revisions, read.Revisions);
    }

    [Fact]
    public void An_older_revision_in_force_gives_its_files_their_names()
    {
        var archive = Of(1, Revision(1, new IntakeState { Items = [Item("horn.wav", "old")] }, new Session { Name = "s" }), Revision(2, new IntakeState { Items = [Item("horn.wav", "new")] }, new Session { Name = "s" }));
        Assert.Equal(Sum("old"), archive.Originals.Single(o => o.Path == "originals/horn.wav").Sha256);
        Assert.Equal(Sum("new"), archive.Originals.Single(o => o.Path == $"earlier/{Sum("new")}").Sha256);
    }
}
