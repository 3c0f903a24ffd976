using Lyrotrans.Core.Naming;

namespace Lyrotrans.Core.Arriving;

/// <summary>What was found so far: what all have in common, and what differs beyond it.</summary>
internal sealed class ArrivalFindings
{
    private readonly List<string> _causes = [];
    private readonly List<ArrivalRow> _rows = [];
    private readonly List<string> _notCompared = [];

    /// <summary>Each said once.</summary>
    public IReadOnlyList<string> Causes => _causes;

    /// <summary>In the order in which they were found.</summary>
    public IReadOnlyList<ArrivalRow> Rows => _rows;

    /// <summary>What could not be compared, and why, in words.</summary>
    public IReadOnlyList<string> NotCompared => _notCompared;

    /// <summary>All or many have this in common.</summary>
    public void Common(string cause) => _causes.Add(cause);

    /// <summary>One thing is another there.</summary>
    public void Row(string subject, string what, string sent, string found, string difference) => _rows.Add(new ArrivalRow(subject, what, sent, found, difference));

    /// <summary>One thing of a clip is another there.</summary>
    public void Row(ArrivalPair pair, string what, string sent, string found, string difference) => Row(pair.Sent.Name, what, sent, found, difference);

    /// <summary>This could not be compared.</summary>
    public void Without(string what) => _notCompared.Add(what);

    /// <summary>A difference with its sign.</summary>
    public static string Signed(long samples) => samples > 0 ? $"+{Digits.Grouped(samples)}" : Digits.Grouped(samples);
}
