using System.Diagnostics;
using System.IO.MemoryMappedFiles;
using Lyrotrans.Audio.Native;
using Lyrotrans.Decoder;

namespace Lyrotrans.Audio.Decoding;

/// <summary>
/// A process that decodes: the library that reads hostile files runs there, with no network and little memory, and when it breaks, the file is a bad one and nothing else. Answers
/// one question at a time.
/// </summary>
internal sealed class DecoderProcess : IDisposable
{
    private const int MemoryBytes = 4 << 20;

    // In memory where the system has a folder for that: what lies there is sound.
    private const string MemoryFolder = "/dev/shm";
    private static readonly TimeSpan s_longest = TimeSpan.FromSeconds(30);
    private readonly Lock _turn = new();
    private readonly Process _process;
    private readonly BinaryWriter _questions;
    private readonly BinaryReader _answers;
    private readonly MemoryMappedFile _memory;
    private readonly MemoryMappedViewAccessor _samples;
    private volatile bool _gone;
    private volatile bool _tooLong;
    private int _files;

    private DecoderProcess(Process process, MemoryMappedFile memory)
    {
        (_process, _memory) = (process, memory);
        _samples = memory.CreateViewAccessor();
        _questions = new BinaryWriter(process.StandardInput.BaseStream);
        _answers = new BinaryReader(process.StandardOutput.BaseStream);
    }

    /// <summary>Samples that one answer can hold.</summary>
    public static int MostSamples => MemoryBytes / sizeof(float);

    /// <summary>Whether it has ended.</summary>
    public bool IsGone => _gone;

    /// <summary>Files that it has open.</summary>
    public int Files => Volatile.Read(ref _files);

    /// <exception cref="InvalidOperationException">It cannot be started; the words say what to install.</exception>
    public static DecoderProcess Start()
    {
        var path = Path.Combine(Directory.Exists(MemoryFolder) ? MemoryFolder : Path.GetTempPath(), $"lyrotrans-{Guid.NewGuid():N}");
        try
        {
            var options = new FileStreamOptions { Mode = FileMode.CreateNew, Access = FileAccess.ReadWrite };
            if (!OperatingSystem.IsWindows())
            {
                options.UnixCreateMode = UnixFileMode.UserRead | UnixFileMode.UserWrite;
            }

            var memory = MemoryMappedFile.CreateFromFile(new FileStream(path, options), null, MemoryBytes, MemoryMappedFileAccess.ReadWrite, HandleInheritability.None, leaveOpen: false);
            var decoder = new DecoderProcess(Process.Start(HelperProgram.With(path, $"{MemoryBytes}"))!, memory);
            decoder.Ready();
            return decoder;
        }
        finally
        {
            File.Delete(path);
        }
    }

    /// <exception cref="DecoderGoneException">It ended.</exception>
    /// <returns>Null, and why in words, where it cannot be opened.</returns>
    public (DecodedFile? File, string Problem) Open(string path)
    {
        var opened = Ask<(DecodedFile?, string)>(
            ask =>
            {
                ask.Write((byte)DecoderQuestion.Open);
                ask.Write(path);
            },
            answer => answer.ReadBoolean()
                ? (new DecodedFile(this, answer.ReadInt32(), new CodedFacts(answer.ReadInt64(), answer.ReadInt32(), answer.ReadInt32(), answer.ReadInt32())), string.Empty)
                : (null, answer.ReadString()));
        Interlocked.Add(ref _files, opened.Item1 is null ? 0 : 1);
        return opened;
    }

    /// <summary>Decodes into a buffer, interleaved.</summary>
    /// <returns>Sample frames; fewer than were asked for where no more can be decoded.</returns>
    /// <exception cref="DecoderGoneException">It ended.</exception>
    public int Read(DecodedFile file, long first, int frames, float[] into) => Ask(
        ask =>
        {
            ask.Write((byte)DecoderQuestion.Read);
            ask.Write(file.Number);
            ask.Write(first);
            ask.Write(frames);
        },
        answer =>
        {
            var read = answer.ReadBoolean() ? Math.Clamp(answer.ReadInt32(), 0, frames) : 0;
            _samples.ReadArray(0, into, 0, read * file.Facts.Channels);
            return read;
        });

    /// <summary>Closes a file; nothing where it has ended.</summary>
    public void Close(DecodedFile file)
    {
        Interlocked.Decrement(ref _files);
        try
        {
            Ask(
                ask =>
                {
                    ask.Write((byte)DecoderQuestion.Close);
                    ask.Write(file.Number);
                },
                answer => answer.ReadBoolean());
        }
        catch (DecoderGoneException)
        {
            // It is closed then.
        }
    }

    /// <summary>Ends it; whoever asks it then is told so.</summary>
    public void Dispose()
    {
        _gone = true;
        _process.Kill();
        _questions.Dispose();
        _answers.Dispose();
        _samples.Dispose();
        _memory.Dispose();
    }

    private void Ready()
    {
        try
        {
            Ask(_ => { }, answer => answer.ReadByte());
        }
        catch (DecoderGoneException)
        {
            _process.WaitForExit();
            throw new InvalidOperationException(_process.ExitCode == SndFile.NotInstalled ? NativeCall.Words("libsndfile", SndFile.Package) : "The decoder of compressed sound does not start; the log says why.");
        }
    }

    private T Ask<T>(Action<BinaryWriter> question, Func<BinaryReader, T> answer)
    {
        lock (_turn)
        {
            if (_gone)
            {
                throw new DecoderGoneException(DecoderEnd.Before);
            }

            using var watch = new Timer(_ => EndTooLong(), null, s_longest, Timeout.InfiniteTimeSpan);
            try
            {
                question(_questions);
                _questions.Flush();
                return answer(_answers);
            }
            catch (Exception problem) when (problem is IOException or FormatException)
            {
                Dispose();
                throw new DecoderGoneException(_tooLong ? DecoderEnd.TooLong : DecoderEnd.Asked);
            }
        }
    }

    // What waits for an answer then reads the end of it.
    private void EndTooLong()
    {
        _tooLong = true;
        _process.Kill();
    }
}
