using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Sessions;

/// <summary>A reference picture file and the timecode of its first frame.</summary>
public sealed record PictureReference(string FileName, Timecode Start, long LengthFrames = 0, string? Sha256 = null);
