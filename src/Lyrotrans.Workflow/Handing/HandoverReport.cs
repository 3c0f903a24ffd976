using System.Globalization;
using System.Text;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sound;
using Lyrotrans.Workflow.Build;

namespace Lyrotrans.Workflow.Handing;

/// <summary>The report of a handover, to be filed: what was sent, what the proof found, what was accepted, heard and received. One page without scripts, the same bytes for the same facts.</summary>
public static class HandoverReport
{
    private const string Signed = ".sig";

    /// <summary>What a report of a package is called.</summary>
    public static string NameOf(string package) => $"{Path.GetFileNameWithoutExtension(package)}_report.html";

    /// <summary>What the signature of a file is called, which lies beside it.</summary>
    public static string SignatureOf(string name) => name + Signed;

    /// <summary>The report as HTML in UTF-8.</summary>
    public static byte[] Write(ReportFacts facts)
    {
        var html = new StringBuilder(SheetPage.Begin($"{facts.Manifest.SessionName}: report of the handover"));
        html.Append($"<h1>{E(facts.Manifest.SessionName)}: report of the handover</h1><p>Written {Time(facts.Written)} by {E(facts.WrittenBy)}, {E(facts.Room)}. Its signature lies beside it; the key's fingerprint is <code>{facts.Key.Words}</code>.</p>");
        Sent(html, facts);
        Proof(html, facts);
        Accepted(html, facts);
        html.Append($"<h2>Heard before it went</h2><p>{E(facts.HeardWords)}</p>");
        Lines(html, facts.Heard);
        if (facts.NotHeard.Count > 0)
        {
            html.Append($"<p>Nobody listened to: {E(string.Join(", ", facts.NotHeard))}.</p>");
        }

        html.Append("<h2>Handed over and received</h2>");
        if (facts.Happened.Count == 0)
        {
            html.Append("<p>It was neither offered by a link nor put into a folder, as far as is known here.</p>");
        }

        Lines(html, facts.Happened);
        Files(html, facts);
        return Encoding.UTF8.GetBytes(html.Append(SheetPage.End).ToString());
    }

    private static void Sent(StringBuilder html, ReportFacts facts)
    {
        html.Append("<h2>What was sent</h2><table>");
        Fact(html, "Package", facts.Package);
        Fact(html, "From", facts.Room);
        Fact(html, "To", facts.Receiver.Length > 0 ? facts.Receiver : "nobody was named");
        Fact(html, "Built", $"revision {Digits.Grouped(facts.Revision)}, by {facts.BuiltBy}{((facts.FollowUp?.Made ?? facts.Manifest.Stamp?.Made) is { } made ? $", {Time(made)}" : string.Empty)}");
        if (facts.FollowUp is { } follow)
        {
            Fact(html, "What it is", $"{follow.Words}; with the package before, whose manifest has the SHA-256 {follow.Follows}, it is the one that was proved");
        }

        Fact(html, "Files", $"{Phrases.Count(facts.Files.Count, "file")}, {Digits.Bytes(facts.Files.Sum(f => f.Bytes))}");
        Fact(html, "All files start at", $"{facts.Manifest.StartTimecode} (session sample {Digits.Grouped(facts.Manifest.RangeStart)})");
        html.Append($"<tr><td>SHA-256 of its manifest<td><code>{facts.ManifestSha256}</code></tr></table>");
    }

    private static void Proof(StringBuilder html, ReportFacts facts)
    {
        var proof = facts.Proof;
        html.Append($"<h2>Proof</h2><p><b>{E(proof.Verdict)}</b></p><p>{Phrases.Count(proof.Rows.Count, "comparison")}, {(proof.Failures == 0 ? "none differs" : $"{Digits.Grouped(proof.Failures)} {(proof.Failures == 1 ? "differs" : "differ")}")}; {Phrases.Count(proof.Clips.Count, "clip")}, {Digits.Grouped(proof.Clips.Count(c => c.Offset == 0))} on their sample; proved {Time(proof.At)}.</p>");
        var told = proof.Rows.Where(r => !r.Passed || r.Difference == "stated").ToList();
        if (told.Count > 0)
        {
            html.Append("<table><tr><th>what differs, or is stated and not compared<th>what<th>meant<th>found<th>difference</tr>");
            foreach (var row in told)
            {
                html.Append($"<tr><td>{E(row.Subject)}<td>{E(row.What)}<td>{E(row.Meant)}<td>{E(row.Found)}<td>{E(row.Difference)}</tr>");
            }

            html.Append("</table>");
        }

        if (proof.Residuals.Count > 0)
        {
            html.Append("<table><tr><th>sound<th class=n>left when found is taken from meant<th class=n>bound</tr>");
            foreach (var residual in proof.Residuals)
            {
                html.Append($"<tr><td>{E(residual.Name)}<td class=n>{(residual.BitExact ? "nothing: bit-exact" : $"{Decibels.Words(residual.PeakDb)} dBFS")}<td class=n>{(residual.ArithmeticNeeded ? $"{Decibels.Words(residual.BoundDb)} dBFS" : "bit-exact")}</tr>");
            }

            html.Append("</table>");
        }
    }

    private static void Accepted(StringBuilder html, ReportFacts facts)
    {
        var (answers, gaps) = (facts.Manifest.Preparation.Answers, facts.Manifest.Gaps);
        html.Append("<h2>What was seen and let go</h2>");
        if (answers.Count == 0 && gaps.Count == 0)
        {
            html.Append("<p>Nothing was accepted or noted, and nothing goes without its sound.</p>");
            return;
        }

        html.Append("<table><tr><th>what<th>the sender<th>says</tr>");
        foreach (var gap in gaps)
        {
            html.Append($"<tr><td>without sound: {E(gap.Of)}, {E(gap.Why)}<td>{(gap.IsAccepted ? "accepted it" : "did not accept it")}<td></tr>");
        }

        foreach (var answer in answers)
        {
            html.Append($"<tr><td>{E(answer.Words)}<td>{(answer.Accepted ? "left it so" : "notes it")}<td>{E(answer.Note)}</tr>");
        }

        html.Append("</table>");
    }

    private static void Lines(StringBuilder html, IReadOnlyList<ReportLine> lines)
    {
        if (lines.Count == 0)
        {
            return;
        }

        html.Append("<table><tr><th>when<th>who<th>what</tr>");
        foreach (var line in lines)
        {
            html.Append($"<tr><td class=n>{Time(line.At)}<td>{E(line.Who)}<td>{E(line.What)}</tr>");
        }

        html.Append("</table>");
    }

    private static void Files(StringBuilder html, ReportFacts facts)
    {
        html.Append("<h2>Files</h2><table><tr><th>file<th class=n>size<th>SHA-256</tr>");
        foreach (var (path, bytes, sha256) in facts.Files)
        {
            html.Append($"<tr><td>{E(path)}<td class=n>{Digits.Bytes(bytes)}<td><code>{sha256}</code></tr>");
        }

        html.Append("</table>");
    }

    private static void Fact(StringBuilder html, string name, string value) => html.Append($"<tr><td>{E(name)}<td>{E(value)}</tr>");

    private static string Time(DateTimeOffset at) => at.UtcDateTime.ToString("d MMM yyyy HH:mm:ss", CultureInfo.InvariantCulture) + " UTC";

    private static string E(string text) => SheetPage.Escaped(text);
}
