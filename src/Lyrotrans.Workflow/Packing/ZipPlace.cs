namespace Lyrotrans.Workflow.Packing;

/// <summary>Where an entry of a zip file lies, as its directory says.</summary>
/// <param name="Path">Of the entry, as it is written.</param>
/// <param name="Method">0 is stored.</param>
/// <param name="Offset">Of its own header.</param>
/// <param name="Data">Of its bytes; null where its own header is not there, or they end beyond the file.</param>
/// <param name="Packed">Its bytes as they lie there; below 0 where the directory does not say.</param>
/// <param name="Size">Its bytes unpacked.</param>
public sealed record ZipPlace(string Path, int Method, long Offset, long? Data, long Packed, long Size);
