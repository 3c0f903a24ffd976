namespace Lyrotrans.Formats.Wave;

/// <summary>The bext chunk of a broadcast WAVE file (EBU Tech 3285, 2.2).</summary>
/// <param name="Description">At most 256 bytes of ASCII.</param>
/// <param name="TimeReference">Samples since midnight at the file's own rate.</param>
/// <param name="OriginationDate"><c>yyyy-mm-dd</c>.</param>
/// <param name="OriginationTime"><c>hh:mm:ss</c>.</param>
/// <param name="Umid">The basic UMID (SMPTE ST 330) as lower-case hex of 32 bytes; null where it is all zero.</param>
/// <remarks>docs/formats/sound.md, section 4.</remarks>
public sealed record BroadcastExtension(
    string Description,
    string Originator,
    long TimeReference,
    string OriginationDate = "",
    string OriginationTime = "",
    string OriginatorReference = "",
    string CodingHistory = "",
    string? Umid = null);
