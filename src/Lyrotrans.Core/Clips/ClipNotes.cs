using Lyrotrans.Core.Naming;

namespace Lyrotrans.Core.Clips;

/// <summary>What had to give way, counted and said once a kind.</summary>
internal sealed class ClipNotes
{
    private readonly List<string> _said = [];
    private readonly Dictionary<string, (int Count, double Worst)> _counted = [];

    public void Say(string note)
    {
        if (!_said.Contains(note))
        {
            _said.Add(note);
        }
    }

    /// <param name="kind">With <c>{0}</c> for how many and <c>{1}</c> for the worst.</param>
    /// <param name="amount">Of this one; the worst is kept.</param>
    public void Count(string kind, double amount = 0)
    {
        var (count, worst) = _counted.GetValueOrDefault(kind);
        _counted[kind] = (count + 1, Math.Max(worst, amount));
    }

    public IEnumerable<string> All() => _said.Concat(_counted.Select(c => string.Format(
        System.Globalization.CultureInfo.InvariantCulture, c.Key, Digits.Grouped(c.Value.Count), c.Value.Worst.ToString("0.##", System.Globalization.CultureInfo.InvariantCulture))));
}
