using System.Collections;

namespace Lyrotrans.Core.Findings;

/// <summary>The findings of one file: each once, in the order in which they were met. What goes beyond <see cref="Most"/> is counted, and the last finding says how many those are.</summary>
public sealed class FindingList : IEnumerable<Finding>
{
    /// <summary>As many as a person would read.</summary>
    public const int Most = 200;

    private readonly List<Finding> _findings = [];
    private readonly HashSet<Finding> _known = [];
    private long _more;

    /// <summary>Adds what was found, while there is room.</summary>
    public void Add(FindingCode code, string place, string text) => Add(new Finding(code, place, text));

    public void Add(Finding finding)
    {
        if (_findings.Count == Most)
        {
            _more += _known.Contains(finding) ? 0 : 1;
        }
        else if (_known.Add(finding))
        {
            _findings.Add(finding);
        }
    }

    /// <summary>Adds what was found elsewhere, while there is room.</summary>
    public void AddRange(IEnumerable<Finding> findings)
    {
        foreach (var finding in findings)
        {
            Add(finding);
        }
    }

    public IEnumerator<Finding> GetEnumerator() =>
        (_more == 0 ? _findings : _findings.Append(new Finding(FileCodes.MoreFindings, string.Empty, $"More was found {_more} times; the first {Most} findings are listed."))).GetEnumerator();

    IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();
}
