using Lyrotrans.Core.Time;

namespace Lyrotrans.Workflow.Returning;

/// <summary>How sound comes to run at another speed: samples that were taken at one rate and are said to be of another.</summary>
/// <param name="Factor">By what the said rate has to be multiplied to be the true one.</param>
/// <param name="Words">What happened, as it is said.</param>
public sealed record RateMistake(Rational Factor, string Words)
{
    /// <summary>So many of them happen often.</summary>
    public const int Common = 2;

    /// <summary>Those that happen, the commonest first.</summary>
    public static IReadOnlyList<RateMistake> All { get; } =
    [
        new(new Rational(147, 160), "samples of 44 100 Hz are said to be of 48 000 Hz, so that it runs fast and high"),
        new(new Rational(160, 147), "samples of 48 000 Hz are said to be of 44 100 Hz, so that it runs slow and low"),
        new(new Rational(1000, 1001), "it was pulled up by 1001/1000, as between film and video"),
        new(new Rational(1001, 1000), "it was pulled down by 1000/1001, as between film and video"),
        new(new Rational(24, 25), "it runs at 25/24, as film on 25 frames"),
        new(new Rational(25, 24), "it runs at 24/25, as 25 frames on film"),
        new(2, "samples of twice its rate are said to be of its rate, so that it runs at half speed"),
        new(new Rational(1, 2), "samples of half its rate are said to be of its rate, so that it runs at double speed"),
    ];
}
