using Lyrotrans.Formats.Binary;
using Lyrotrans.Formats.Sessions;

namespace Lyrotrans.Formats.OpenSession;

/// <summary>The open session document as one of the session formats.</summary>
public sealed class OpenSessionFormat : ISessionFormat
{
    /// <summary>Of its files, with both dots.</summary>
    public const string FileExtension = ".session.json";

    public string Id => "open session document";

    public string Extension => FileExtension;

    public IReadOnlyList<string> FormerIds => ["OpenSession"];

    public bool IsWhole => true;

    public bool Is(ReadOnlySpan<byte> head, Stream stream) => JsonHead.Has(head, SessionDocument.VersionProperty);

    public ISessionDocument Open(Stream stream, string name) => new Document(stream, name);

    private sealed class Document(Stream stream, string name) : ISessionDocument
    {
        private readonly Core.Sessions.Session _session = SessionDocumentReader.Read(stream, name);

        public IReadOnlyList<string> Compositions => [_session.Name];

        public bool NamesPaths => true;

        public ReadSession ReadSession(string? composition = null) => new(_session, [], new Dictionary<string, DocumentMedia>(), new Dictionary<string, string>());

        public Stream? OpenEssence(string id) => null;
    }
}
