using Lyrotrans.Files;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Store;

namespace Lyrotrans.Storage.Revisions;

/// <summary>The documents of revisions, reached by the revision that they belong to and in no other way.</summary>
public sealed class DocumentStore(FileStore store)
{
    /// <summary>What was brought in and decided, as JSON.</summary>
    public byte[] Intake(Revision revision) => Read(revision.IntakeSha);

    /// <summary>The session, as JSON.</summary>
    public byte[] Session(Revision revision) => Read(revision.SessionSha);

    /// <summary>Who receives the session, and what becomes of each track there, as JSON.</summary>
    public byte[] Receivers(Revision revision) => Read(revision.ReceiversSha);

    /// <summary>Keeps the documents of a revision that is being made, and says their hashes.</summary>
    public async Task<(string Intake, string Session, string Receivers)> KeepAsync(RevisionDocuments documents, CancellationToken stop) =>
        (await KeepAsync(documents.Intake, stop), await KeepAsync(documents.Session, stop), await KeepAsync(documents.Receivers, stop));

    private byte[] Read(string sha256)
    {
        using var stream = (store.Find(sha256) ?? throw new InvalidOperationException($"The document {sha256} is not in the store.")).Open();
        var bytes = new byte[stream.Length];
        stream.ReadExactly(bytes);
        return bytes;
    }

    private async Task<string> KeepAsync(byte[] bytes, CancellationToken stop)
    {
        var temporary = Path.Combine(store.Incoming, Guid.NewGuid().ToString("N"));
        await File.WriteAllBytesAsync(temporary, bytes, stop);
        var sha256 = await FileHash.OfAsync(temporary, stop);
        store.Take(temporary, sha256);
        return sha256;
    }
}
