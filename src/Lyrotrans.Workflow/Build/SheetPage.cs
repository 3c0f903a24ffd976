using System.Net;
using Lyrotrans.Core.Naming;

namespace Lyrotrans.Workflow.Build;

/// <summary>What sheets that a person reads anywhere have in common: one page that asks nobody for anything and runs nothing, whatever a name in it says.</summary>
internal static class SheetPage
{
    private const string Policy = "default-src 'none'; style-src 'unsafe-inline'; base-uri 'none'; form-action 'none'";

    private const string Style = """
        body { font: 15px/1.45 system-ui, sans-serif; margin: 2rem auto; max-width: 60rem; padding: 0 1rem; background: #faf7ee; color: #14202e; }
        h1 { font-size: 1.5rem; margin: 0; } h2 { font-size: 1.05rem; margin: 2rem 0 .4rem; }
        table { border-collapse: collapse; width: 100%; } th { text-align: left; border-bottom: 2px solid #445162; padding: .3rem .5rem; font-weight: 500; }
        td { border-bottom: 1px solid #e2dac7; padding: .25rem .5rem; vertical-align: top; } .n { text-align: right; font-variant-numeric: tabular-nums; white-space: nowrap; }
        code { font-size: .82em; color: #445162; overflow-wrap: anywhere; }
        """;

    /// <summary>The page up to its first heading.</summary>
    public static string Begin(string title) => $"<!doctype html><html lang=\"en\"><meta charset=\"utf-8\"><meta http-equiv=\"Content-Security-Policy\" content=\"{Policy}\"><title>{Escaped(title)}</title><style>{Style}</style>";

    /// <summary>The end of the page.</summary>
    public const string End = "</html>\n";

    /// <summary>Text as it stands on the page, hidden marks shown for what they are.</summary>
    public static string Escaped(string text) => WebUtility.HtmlEncode(HiddenMarks.Shown(text));
}
