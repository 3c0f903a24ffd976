using Lyrotrans.Audio.Rates;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Workflow.Build.Prints;

/// <summary>
/// A print at another rate than the session's: made at the session's, as it is heard there, and converted whole, so that nothing in it moves and no edit is heard. Sample n of the file lies at n of the
/// delivered rate from session start.
/// </summary>
internal sealed class ConvertedPrint : IPrint
{
    private readonly PrintSource _source;
    private readonly ConvertedSource _converted;
    private readonly long _first;

    /// <param name="open">Opens the print, of the session samples that are given.</param>
    /// <param name="span">What the file covers, in samples of its rate.</param>
    /// <param name="from">The session's rate.</param>
    /// <param name="to">The file's.</param>
    public ConvertedPrint(Func<SampleRange, IPrint> open, SampleRange span, SampleRate from, SampleRate to)
    {
        var range = Needs(span, from, to);
        _source = new PrintSource(open(range), from, range.Length, ConvertedSource.WindowOf(from, to, Printing.Block));
        _converted = new ConvertedSource(_source, to, leastStretch: Printing.Block);
        _first = span.Start - from.Convert(range.Start, to);
    }

    public int Channels => _source.Channels;

    /// <summary>The session samples that are needed for a span of another rate: what reaches into it from both sides too, from a place that is whole at both rates.</summary>
    public static SampleRange Needs(SampleRange span, SampleRate from, SampleRate to) => ConvertedSource.NeededFor(span, from, to);

    public void Read(long at, int count, double[][] into) => _converted.Read(_first + at, count, into);

    public void Dispose()
    {
        _converted.Dispose();
        _source.Dispose();
    }
}
