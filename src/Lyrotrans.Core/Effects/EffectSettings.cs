using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Effects;

/// <summary>An insert's settings as its effect takes them: what is not said is usual, what is out of range is held at the nearest possible value.</summary>
public sealed class EffectSettings
{
    private readonly Dictionary<string, double> _values;

    internal EffectSettings(EffectKind kind, Insert insert)
    {
        Kind = kind;
        _values = kind.Parameters.ToDictionary(p => p.Name, p => p.Usual);
        foreach (var (name, value) in insert.Parameters)
        {
            if (kind.Parameters.FirstOrDefault(p => p.Name == name) is { } parameter && double.IsFinite(value))
            {
                _values[name] = Math.Clamp(value, parameter.Least, parameter.Most);
            }
        }
    }

    /// <summary>The effect whose settings these are.</summary>
    public EffectKind Kind { get; }

    /// <summary>The value of a setting by its name: what was set, or its usual value.</summary>
    /// <exception cref="KeyNotFoundException">The effect has no such setting.</exception>
    public double this[string parameter] => _values[parameter];

    /// <summary>1, 2 or 4.</summary>
    public int Oversampling => _values.TryGetValue(EffectKind.Oversampling, out var factor) ? factor >= 4 ? 4 : factor >= 2 ? 2 : 1 : 1;

    /// <summary>A time that is set in milliseconds, in whole samples.</summary>
    public long Milliseconds(string parameter, SampleRate rate) => (long)Math.Round(_values[parameter] / 1000 * rate.PerSecond.ToDouble());
}
