using Lyrotrans.Storage.Model;

namespace Lyrotrans.Web.Pages.Transfers;

/// <summary>What came back by a link and waits, to be shown.</summary>
/// <param name="Link">That it came by.</param>
/// <param name="Files">At least one.</param>
/// <param name="Look">The newest look at them; null where none was begun.</param>
public sealed record CameBackView(PackageLink Link, List<ReturnedFile> Files, ReturnCheck? Look);
