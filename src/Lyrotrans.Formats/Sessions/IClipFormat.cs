using Lyrotrans.Core.ClipFormats;

namespace Lyrotrans.Formats.Sessions;

/// <summary>A session format that tracks can be delivered in as clips.</summary>
public interface IClipFormat : ISessionFormat
{
    /// <summary>What it can hold.</summary>
    ClipFormat Clips { get; }

    /// <summary>Writes a session that was planned for this format. The same session and choices give the same bytes.</summary>
    /// <param name="file">What goes into the file.</param>
    /// <param name="output">Written front to back; need not be seekable.</param>
    /// <exception cref="ArgumentException">The session says what the format cannot hold.</exception>
    /// <exception cref="InvalidOperationException">It would be larger than the format can say.</exception>
    void Write(ClipFile file, Stream output);
}
