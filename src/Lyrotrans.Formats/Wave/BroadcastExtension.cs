namespace Lyrotrans.Formats.Wave;

/// <summary>The bext chunk of a broadcast WAVE file (EBU Tech 3285, 2.2).</summary>
/// <param name="Description">At most 256 bytes of ASCII.</param>
/// <param name="TimeReference">Samples since midnight at the file's own rate.</param>
/// <param name="OriginationDate"><c>yyyy-mm-dd</c>.</param>
/// <param name="OriginationTime"><c>hh:mm:ss</c>.</param>
public sealed record BroadcastExtension(
    string Description,
    string Originator,
    long TimeReference,
    string OriginationDate = "",
    string OriginationTime = "",
    string OriginatorReference = "",
    string CodingHistory = "");
