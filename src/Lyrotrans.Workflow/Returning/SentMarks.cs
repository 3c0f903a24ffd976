using System.Buffers.Binary;
using System.Text;
using Lyrotrans.Audio.Placing;
using Lyrotrans.Core.Collections;
using Lyrotrans.Workflow.Arriving;

namespace Lyrotrans.Workflow.Returning;

/// <summary>Landmarks of everything that was sent, which say in a moment what a file that came back is of. They are kept beside a package, since all of its sound is read for them.</summary>
/// <remarks>docs/decisions/0054-landmarks.md.</remarks>
public sealed class SentMarks
{
    // Another one is made anew.
    private const int Version = 1;
    private const int MostTracks = 100_000;
    private readonly IReadOnlyList<string> _names;

    private SentMarks(IReadOnlyList<string> names, IReadOnlyList<Landmarks> marks) => (_names, Marks) = (names, marks);

    /// <summary>In the order of what was sent.</summary>
    public IReadOnlyList<Landmarks> Marks { get; }

    /// <summary>Whether it has sound that can be looked through.</summary>
    public static bool CanBeOf(SentPackage sent) => sent.Sent.Session.Rate is var rate && SignalFinder.CanFind(rate, rate) && SentSound.Of(sent, new AnalysisMemory()).Count > 0;

    /// <summary>Those of a package: all of its sound is read.</summary>
    /// <param name="sent">What was sent, with its sound.</param>
    /// <param name="report">Told how far it is, 0 to 1.</param>
    /// <param name="stop">Heeded all along.</param>
    /// <param name="threads">At most so many at once; none for as many as there are processors.</param>
    public static SentMarks Of(SentPackage sent, Action<double> report, CancellationToken stop, int? threads = null) => Of(SentSound.Of(sent, new AnalysisMemory()), report, stop, threads);

    internal static SentMarks Of(IReadOnlyList<SentSound> sent, Action<double> report, CancellationToken stop, int? threads = null)
    {
        var (done, marks) = (0, new Landmarks[sent.Count]);
        AtOnce.Each(sent.Count, i =>
        {
            // Looked at once: it takes the place of nothing that is looked at again.
            marks[i] = Landmarks.Of(new SearchedSound(sent[i].Sound.Open), stop);
            report((double)Interlocked.Increment(ref done) / sent.Count);
        }, stop, threads);
        return new SentMarks([.. sent.Select(s => s.Name)], marks);
    }

    /// <summary>Whether they are of these.</summary>
    internal bool AreOf(IReadOnlyList<SentSound> sent) => _names.SequenceEqual(sent.Select(s => s.Name));

    /// <summary>Writes them.</summary>
    public void Write(Stream output)
    {
        output.Write(Number(Version));
        output.Write(Number(Marks.Count));
        foreach (var (name, marks) in _names.Zip(Marks))
        {
            var text = Encoding.UTF8.GetBytes(name);
            output.Write(Number(text.Length));
            output.Write(text);
            marks.Write(output);
        }
    }

    /// <summary>What <see cref="Write"/> wrote; null where it is of another version, damaged or cut short.</summary>
    public static SentMarks? Read(Stream input)
    {
        try
        {
            if (Number(input) != Version || Number(input) is not (>= 0 and <= MostTracks and var count))
            {
                return null;
            }

            var (names, marks) = (new List<string>(), new List<Landmarks>());
            for (var i = 0; i < count; i++)
            {
                var length = Number(input);
                if (length < 0 || length > input.Length - input.Position)
                {
                    return null;
                }

                var text = new byte[length];
                input.ReadExactly(text);
                names.Add(Encoding.UTF8.GetString(text));
                marks.Add(Landmarks.Read(input));
            }

            return new SentMarks(names, marks);
        }
        catch (Exception problem) when (problem is InvalidDataException or EndOfStreamException)
        {
            return null;
        }
    }

    private static byte[] Number(int value)
    {
        var bytes = new byte[sizeof(int)];
        BinaryPrimitives.WriteInt32LittleEndian(bytes, value);
        return bytes;
    }

    private static int Number(Stream input)
    {
        Span<byte> bytes = stackalloc byte[sizeof(int)];
        input.ReadExactly(bytes);
        return BinaryPrimitives.ReadInt32LittleEndian(bytes);
    }
}
