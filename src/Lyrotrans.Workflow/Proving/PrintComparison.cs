using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Build.Prints;

namespace Lyrotrans.Workflow.Proving;

/// <summary>Compares one sound file that was found with its print, while that is made again.</summary>
/// <param name="proof">Takes what was meant.</param>
/// <param name="package">A reader of its own.</param>
/// <param name="found">The found file.</param>
/// <param name="print">Opens the same print once more, for what is copied past the samples.</param>
/// <param name="differs">Whether a byte was met that is not as meant.</param>
internal sealed class PrintComparison(SoundProof proof, PackageReader package, FoundSound found, Func<IPrint> print, Func<bool> differs) : IPrintWatch
{
    private IPrint? _print;
    private double[][] _own = [];

    public void Take(long at, int count, double[][]? samples)
    {
        // Copied bytes that are equal are all there is to prove.
        if (samples is null && differs())
        {
            _print ??= print();
            samples = _own = _own.Length > 0 ? _own : Printing.Planar(_print.Channels);
            _print.Read(at, count, samples);
        }

        if (samples is not null)
        {
            proof.Take(at, count, samples);
        }
    }

    public void Finish() => proof.Finish();

    public void Dispose()
    {
        _print?.Dispose();
        found.Dispose();
        package.Dispose();
    }
}
