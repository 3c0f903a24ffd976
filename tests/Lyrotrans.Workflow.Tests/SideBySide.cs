using Lyrotrans.Workflow.Packing;

namespace Lyrotrans.Workflow.Tests;

/// <summary>Files of a package that are under way at the same time.</summary>
internal static class SideBySide
{
    /// <summary>Each in two pieces, the last one first, and one of no known size behind them.</summary>
    public static void Write(IPackageOutput output, IReadOnlyList<byte[]> files)
    {
        var reserved = files.Select((f, i) => output.Reserve($"root/Zoë {i}.bin", f.Length)).ToList();
        for (var i = files.Count - 1; i >= 0; i--)
        {
            reserved[i].Write(files[i].AsSpan(0, files[i].Length / 2));
        }

        for (var i = 0; i < files.Count; i++)
        {
            reserved[i].Write(files[i].AsSpan(files[i].Length / 2));
            reserved[i].Finish();
        }

        var open = output.Append("root/open.txt");
        open.Write("of no known size"u8);
        open.Finish();
        output.Finish();
    }
}
