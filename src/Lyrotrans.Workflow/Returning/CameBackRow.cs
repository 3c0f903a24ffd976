using Lyrotrans.Core.Time;
using Lyrotrans.Workflow.Arriving;

namespace Lyrotrans.Workflow.Returning;

/// <summary>What is kept of a file that came back: what is said of it, and what it takes to put it at its place.</summary>
/// <param name="File">The file that came, which may be an archive with more in it.</param>
/// <param name="Name">With the folders that it came in.</param>
/// <param name="Kind">What is said first.</param>
/// <param name="IsSure">Whether there is no other place or track that it could be of.</param>
/// <param name="Verdict">What is said.</param>
/// <param name="Sample">The sample, counted as in the session that the package was made of, that its first lies on; null where it lies nowhere.</param>
/// <param name="Rate">Samples a second that these are counted in, as a ratio in text.</param>
/// <param name="TrueRate">Samples a second that its own are, with its rate mistake and its drift taken out, as a ratio in text; null where they are what it says.</param>
/// <param name="DriftPpm">By how many millionths it runs faster than what was sent.</param>
public sealed record CameBackRow(Guid File, string Name, CameBackKind Kind, bool IsSure, string Verdict, long? Sample, string Rate, string? TrueRate, double DriftPpm)
{
    // Nearer than a millionth of a millionth, and short enough to be computed with.
    private const long Finest = 1 << 18;

    /// <summary>Whether somebody should look: it could not be read, or could lie elsewhere. A new part is nothing to doubt.</summary>
    public bool IsDoubtful => Kind == CameBackKind.Unread || (HasPlace && !IsSure);

    /// <summary>Whether it can be put at a place.</summary>
    public bool HasPlace => Sample is not null;

    /// <summary>The row of a file that could not be read.</summary>
    public static CameBackRow Unread(Guid file, string name, string why) => new(file, name, CameBackKind.Unread, false, why, null, SampleRate.Hz48000.PerSecond.ToString(), null, 0);

    /// <summary>The row of a file.</summary>
    /// <param name="file">The file that came.</param>
    /// <param name="found">What it is.</param>
    /// <param name="sent">What was sent.</param>
    public static CameBackRow Of(Guid file, CameBack found, SentPackage sent)
    {
        var lies = found.Kind is CameBackKind.Known or CameBackKind.Mix;
        var factor = (found.Mistake?.Factor ?? 1) / Rational.FromDouble(1 + (found.DriftPpm / 1e6), 1_000_000_000_000).Within(Finest);
        return new CameBackRow(
            file, found.Name, found.Kind, found.IsSure, found.Verdict, lies ? sent.Sent.Begin + found.Nearest : null, found.Rate.PerSecond.ToString(),
            lies && factor != 1 ? (found.Said.PerSecond * factor).ToString() : null, found.DriftPpm);
    }
}
