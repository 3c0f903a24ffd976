using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Arriving;

/// <summary>What one side's files say. What the other side's do not say is not compared, and that is said.</summary>
/// <param name="Clips">The session with its clips, or with files of sound at their places; null where no file says any.</param>
/// <param name="Music">Tempo, meters and notes as MIDI or a session document says them, counted from its own bar 1; null where no file says any.</param>
/// <param name="IsEdit">Whether clips are said by a document of clips, which says rides and the timecode of the start too.</param>
public sealed record ArrivalSide(Session? Clips, Session? Music, bool IsEdit);
