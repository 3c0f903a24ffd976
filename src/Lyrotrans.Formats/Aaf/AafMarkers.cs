using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Edits;

namespace Lyrotrans.Formats.Aaf;

/// <summary>
/// A marker of an event slot. Who set it and when has no property in the model: files say it in comments of the component, or in properties that they define
/// themselves. Either is known by the last word of its name: user or author, date, time.
/// </summary>
/// <remarks>docs/formats/aaf.md, section 7.</remarks>
internal sealed class AafMarkers(AafFile file)
{
    private readonly List<(ushort Pid, string Name, bool IsText)> _own = [.. file.OwnProperties("CommentMarker")];

    /// <param name="marker">Of the class CommentMarker.</param>
    /// <param name="unit">Samples in an edit unit.</param>
    public EditMarker Read(AafObject marker, Rational unit)
    {
        var said = Said(marker).Where(s => s.Text.Length > 0).ToList();
        string Last(params ReadOnlySpan<string> words)
        {
            foreach (var (word, text) in said)
            {
                if (words.Contains(word))
                {
                    return text;
                }
            }

            return string.Empty;
        }

        return new EditMarker(
            (marker.Whole(AafPid.EventPosition) ?? 0) * unit, Math.Max(0, marker.Whole(AafPid.Length) ?? 0) * unit, marker.Text(AafPid.EventComment) ?? string.Empty,
            Last("user", "author"), $"{Last("date")} {Last("time")}".Trim());
    }

    private IEnumerable<(string Word, string Text)> Said(AafObject marker)
    {
        foreach (var (pid, name, isText) in _own)
        {
            if (isText && marker.Text(pid) is { } text)
            {
                yield return (LastWord(name), text);
            }
        }

        foreach (var comment in _own.Where(p => !p.IsText).SelectMany(p => marker.Objects(p.Pid)).Concat(marker.Objects(AafPid.ComponentComments)).Where(c => c.Is("TaggedValue")))
        {
            if (comment.Text(AafPid.TaggedName) is { } name && comment.IndirectText(AafPid.TaggedValue) is { } text)
            {
                yield return (LastWord(name), text);
            }
        }
    }

    /// <summary>Words end where letters end, and where a capital follows a small letter.</summary>
    private static string LastWord(string name)
    {
        var start = name.Length;
        while (start > 0 && char.IsLetter(name[start - 1]) && (start == name.Length || !(char.IsUpper(name[start]) && char.IsLower(name[start - 1]))))
        {
            start--;
        }

        return name[start..].ToLowerInvariant();
    }
}
