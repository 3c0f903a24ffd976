namespace Lyrotrans.Core.Following;

/// <summary>A file of a package, held to an earlier one.</summary>
/// <param name="Path">In the package, with <c>/</c>.</param>
/// <param name="State">What it is to whoever has the earlier one.</param>
/// <param name="Bytes">Its length; of a file that is gone that of the earlier one.</param>
/// <param name="Sha256">Of its bytes, in lower-case hex; of a file that is gone those of the earlier one.</param>
/// <param name="IsRecord">Whether it only says something of the others: a sheet, a table, the manifest. These are made again each time.</param>
public sealed record FollowedFile(string Path, FollowedState State, long Bytes, string Sha256, bool IsRecord);
