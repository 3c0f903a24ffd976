using Lyrotrans.Storage.Model;

namespace Lyrotrans.Web.Links;

/// <summary>What happened at a link, in words.</summary>
public static class LinkWords
{
    /// <param name="happened">A line of it.</param>
    public static string Of(LinkEvent happened) => happened.Kind switch
    {
        LinkEventKind.Opened => "opened the page",
        LinkEventKind.Fetched => $"fetched {happened.What}",
        LinkEventKind.Checked => $"checked: {happened.What}",
        LinkEventKind.Confirmed => "said that all is here",
        LinkEventKind.Word => $"says: {happened.What}",
        LinkEventKind.SentBack => $"sent back {happened.What}",
        _ => happened.What,
    };
}
