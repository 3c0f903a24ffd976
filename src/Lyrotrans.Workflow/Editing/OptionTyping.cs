using System.Globalization;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Options;
using Lyrotrans.Core.Positions;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Workflow.Editing;

/// <summary>Options as they are typed into fields and shown in them.</summary>
public static class OptionTyping
{
    /// <summary>The choices with what was typed for an option; the reason why not where it cannot be taken.</summary>
    /// <param name="option">What it was typed for.</param>
    /// <param name="choices">What is changed by it.</param>
    /// <param name="typed">The field.</param>
    /// <param name="session">For durations and places.</param>
    /// <param name="problem">Null where it was taken.</param>
    public static T Take<T>(Option<T> option, T choices, string typed, Session session, out string? problem)
    {
        problem = null;
        switch (option)
        {
            case ChoiceOption<T> choice when choice.Has(typed):
                return choice.With(choices, typed);
            case ChoiceOption<T> choice:
                problem = $"There is no \"{typed}\" here; {option.Label} can be {Phrases.List([.. choice.Values.Select(v => v.Words)], "or")}.";
                return choices;
            case TruthOption<T> truth when typed is "true" or "false":
                return truth.With(choices, typed == "true");
            case TextOption<T> text when text.Problem(typed.Trim()) is { } why:
                problem = why;
                return choices;
            case TextOption<T> text:
                return text.With(choices, typed.Trim() is { Length: > 0 } said ? said : null);
            case WholeOption<T> { MayBeEmpty: true } whole when string.IsNullOrWhiteSpace(typed):
                return whole.With(choices, null);
            case WholeOption<T> whole when Whole(whole, typed, session) is { } number:
                return whole.With(choices, number);
            case WholeOption<T> whole:
                problem = $"\"{typed}\" cannot be taken for {option.Label}: {whole.Range} is expected.";
                return choices;
            case NumberOption<T> number when double.TryParse(typed.Replace('−', '-').Trim(), NumberStyles.Float, CultureInfo.InvariantCulture, out var value) && value >= number.Least && value <= number.Most:
                return number.With(choices, value);
            case NumberOption<T> number:
                problem = $"\"{typed}\" cannot be taken for {option.Label}: {number.Range} is expected.";
                return choices;
            default:
                problem = $"\"{typed}\" cannot be taken for {option.Label}.";
                return choices;
        }
    }

    /// <summary>What a field shows of choices: an identifier, <c>true</c> or <c>false</c>, or what could be typed.</summary>
    public static string Shown<T>(Option<T> option, T choices, Session session) => option switch
    {
        ChoiceOption<T> choice => choice.Of(choices),
        TruthOption<T> truth => truth.Of(choices) ? "true" : "false",
        TextOption<T> text => text.Of(choices) ?? string.Empty,
        NumberOption<T> number => Core.Sound.Decibels.Words(number.Of(choices)),
        WholeOption<T> whole when whole.Of(choices) is { } value => Shown(whole.Unit, value, session),
        _ => string.Empty,
    };

    private static string Shown(WholeUnit unit, long value, Session session) => unit switch
    {
        WholeUnit.Duration => session.Rate.SecondsOf(value).ToDouble().ToString("0.000", CultureInfo.InvariantCulture),
        WholeUnit.Place => session.TimecodeScale.At(value).ToString(),
        _ => value.ToString(CultureInfo.InvariantCulture),
    };

    private static long? Whole<T>(WholeOption<T> option, string typed, Session session) => option.Unit switch
    {
        WholeUnit.Place => PositionText.ParseAny(session, typed, option.AtEnd),
        WholeUnit.Duration => Rational.TryParse(typed.Trim().TrimEnd('s').Trim(), out var seconds) && seconds.Sign >= 0 && seconds <= option.MostSeconds ? session.Rate.SamplesIn(seconds).RoundToEven() : null,
        _ => long.TryParse(string.Concat(typed.Where(c => !char.IsWhiteSpace(c))), NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var count) && option.Takes(count) ? count : null,
    };
}
