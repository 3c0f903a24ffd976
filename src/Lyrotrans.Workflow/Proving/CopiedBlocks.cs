using Lyrotrans.Audio.Sources;
using Lyrotrans.Workflow.Build.Prints;

namespace Lyrotrans.Workflow.Proving;

/// <summary>Compares stretches of a print that were copied from media as bytes: where nothing was computed, equal bytes are all there is to prove.</summary>
internal sealed class CopiedBlocks
{
    private readonly PcmSource _found;
    private readonly PrintBytes _meant;
    private readonly byte[] _a;
    private readonly byte[] _b;

    public CopiedBlocks(IPrint print, PcmSource found, PrintRule rule)
    {
        _found = found;
        _meant = new PrintBytes(print, found.Layout, rule);
        _a = new byte[Printing.Block * found.Layout.BytesPerFrame];
        _b = new byte[_a.Length];
    }

    /// <summary>Whether nothing of a block was computed and its bytes are those that were meant.</summary>
    public bool AreEqual(long at, int count)
    {
        if (at + count > _found.Length || !_meant.IsCopied(at, count))
        {
            return false;
        }

        var bytes = count * _found.Layout.BytesPerFrame;
        _meant.Fill(at, count, _a.AsSpan(0, bytes));
        _found.ReadBytes(at, count, _b.AsSpan(0, bytes));
        return _a.AsSpan(0, bytes).SequenceEqual(_b.AsSpan(0, bytes));
    }
}
