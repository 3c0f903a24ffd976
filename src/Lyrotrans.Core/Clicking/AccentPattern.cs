using System.Globalization;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Clicking;

/// <summary>How the beats of a bar are grouped: <c>2+2+3</c> is seven beats with an accent on the first, third and fifth.</summary>
public sealed record AccentPattern
{
    private const int MostBeats = 255;

    private AccentPattern(ValueArray<int> groups) => Groups = groups;

    /// <summary>Beats in each group, each at least 1.</summary>
    public ValueArray<int> Groups { get; }

    /// <summary>All beats of the bar.</summary>
    public int Beats => Groups.Sum();

    /// <summary>What a meter has when nothing else was said: quarters and longer in one group, shorter beats in threes or twos.</summary>
    public static AccentPattern Usual(MeterChange meter)
    {
        if (meter.BeatUnit < 8 || meter.Beats < 4)
        {
            return new([meter.Beats]);
        }

        if (meter.Beats % 3 == 0)
        {
            return new(Enumerable.Repeat(3, meter.Beats / 3).ToValueArray());
        }

        var twos = Enumerable.Repeat(2, meter.Beats / 2).ToArray();
        twos[^1] += meter.Beats % 2;
        return new(twos.ToValueArray());
    }

    /// <summary>Reads <c>2+2+3</c> or <c>4</c>.</summary>
    public static bool TryParse(string? text, out AccentPattern pattern)
    {
        var groups = new List<int>();
        foreach (var part in (text ?? string.Empty).Split('+'))
        {
            if (!int.TryParse(part.Trim(), NumberStyles.None, CultureInfo.InvariantCulture, out var beats) || beats is < 1 or > MostBeats)
            {
                pattern = new([]);
                return false;
            }

            groups.Add(beats);
        }

        pattern = new(groups.ToValueArray());
        return pattern.Beats <= MostBeats;
    }

    /// <summary>How strong a beat is, counted from 1.</summary>
    public ClickStrength StrengthOf(int beat)
    {
        var first = 1;
        foreach (var group in Groups)
        {
            if (beat == first)
            {
                return beat == 1 ? ClickStrength.Bar : ClickStrength.Group;
            }

            first += group;
        }

        return ClickStrength.Beat;
    }

    public override string ToString() => string.Join('+', Groups);
}
