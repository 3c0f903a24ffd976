using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Keeping;

namespace Lyrotrans.Web.Links;

/// <summary>A link that holds, and the package that it opens.</summary>
/// <param name="Token">As it was asked by.</param>
/// <param name="IsOpen">Whether nothing has to be typed first, or it was.</param>
public sealed record OpenedLink(LinkToken Token, PackageLink Link, PackageBuild Build, Transfer Transfer, Room Room, KeptPackage Package, bool IsOpen)
{
    /// <summary>The address of a page or file below the link.</summary>
    public string At(string below) => $"/r/{Token.Text}{(below.Length > 0 ? "/" : string.Empty)}{below}";
}
