namespace Lyrotrans.Core.Clicking;

/// <summary>Which beat each click of a file is: clicks that are missing are counted over, what lies between beats is left out.</summary>
internal sealed class ClickBeats
{
    private const int Fewest = 4;
    private const int First = 9;

    // Of a beat: how much shorter or longer the next one may be and still be the next.
    private const double Shortest = 0.75;
    private const double Longest = 1.4;
    private const double NearWhole = 0.2;
    private const double Alike = 0.1;
    private const double MostOdd = 0.2;
    private readonly IReadOnlyList<HeardClick> _clicks;
    private readonly List<(HeardClick Click, int Beat)> _beats = [];
    private double _length;
    private int _odd;

    private ClickBeats(IReadOnlyList<HeardClick> clicks)
    {
        _clicks = clicks;
        _length = Enumerable.Range(0, Math.Min(First, clicks.Count - 1)).Select(i => (double)(clicks[i + 1].Sample - clicks[i].Sample)).Order().ElementAt(Math.Min(First, clicks.Count - 1) / 2);
    }

    /// <summary>Clicks with their beats, from 0; those that are on none are not in it.</summary>
    public IReadOnlyList<(HeardClick Click, int Beat)> Beats => _beats;

    /// <summary>Clicks that lie on no beat.</summary>
    public int Strays { get; private set; }

    /// <summary>Null where they are too few, or follow no beat.</summary>
    public static ClickBeats? Of(IReadOnlyList<HeardClick> clicks)
    {
        if (clicks.Count < Fewest)
        {
            return null;
        }

        var beats = new ClickBeats(clicks);
        beats.Number();
        return beats._odd <= MostOdd * clicks.Count && beats._beats.Count >= Fewest ? beats : null;
    }

    private void Number()
    {
        _beats.Add((_clicks[0], 0));
        for (var i = 1; i < _clicks.Count; i++)
        {
            var (from, beat) = _beats[^1];
            var passed = (double)(_clicks[i].Sample - from.Sample);
            var next = i + 1 < _clicks.Count ? _clicks[i + 1].Sample : (long?)null;

            // What goes on at the new distance is another tempo, and no click that is missing or one too many.
            var goesOn = next - _clicks[i].Sample is { } after && Math.Abs(after - passed) <= Alike * passed;
            if (passed < Shortest * _length && !goesOn)
            {
                Strays++;
                _odd++;
                continue;
            }

            var count = goesOn || passed <= Longest * _length ? 1 : (int)Math.Round(passed / _length);
            if (passed > Longest * _length && !goesOn && Math.Abs((passed / _length) - count) > NearWhole)
            {
                // One beat that was held: the tempo before it goes on.
                _odd++;
                _beats.Add((_clicks[i], beat + count));
                continue;
            }

            _beats.Add((_clicks[i], beat + count));
            _length = passed / count;
        }
    }
}
