using System.Diagnostics;
using System.Text;
using Lyrotrans.Audio.Native;
using Lyrotrans.Core.Errors;
using Lyrotrans.Decoder;

namespace Lyrotrans.Audio.Containers;

/// <summary>A program of ffmpeg that reads one file, confined like the decoder: no network, no other file written, little memory, and ended when nothing comes from it for a while.</summary>
internal sealed class ToolProcess : IDisposable
{
    private const string Folder = "/usr/bin";
    private const int MostWords = 2000;
    private static readonly TimeSpan s_longest = TimeSpan.FromSeconds(30);
    private readonly Process _process;
    private readonly StringBuilder _words = new();
    private readonly Timer _watch;
    private bool _ended;

    private ToolProcess(Process process)
    {
        _process = process;
        _watch = new Timer(_ => EndTooLong(), null, s_longest, Timeout.InfiniteTimeSpan);
        process.ErrorDataReceived += (_, line) => Note(line.Data);
        process.BeginErrorReadLine();
    }

    /// <summary>Whether it was ended because nothing came.</summary>
    public bool TookTooLong { get; private set; }

    /// <summary>What it said of what is wrong, the first line.</summary>
    public string Words
    {
        get
        {
            lock (_words)
            {
                return _words.ToString().Split('\n')[0].Trim();
            }
        }
    }

    /// <param name="program">Such as <c>ffprobe</c>.</param>
    /// <param name="arguments">What it is to do.</param>
    /// <param name="name">The file that it is for, for errors.</param>
    /// <exception cref="BadInputException">It is not installed.</exception>
    public static ToolProcess Start(string program, IEnumerable<string> arguments, string name) => Start(program, ["run"], arguments, name);

    /// <summary>The same for one that makes a file.</summary>
    /// <param name="program">Such as <c>ffmpeg</c>.</param>
    /// <param name="target">Is there, and is the only file that it may write.</param>
    /// <param name="arguments">What it is to do.</param>
    /// <param name="name">The file that it is made from, for errors.</param>
    /// <exception cref="BadInputException">It is not installed.</exception>
    public static ToolProcess Make(string program, string target, IEnumerable<string> arguments, string name) => Start(program, ["make", target], arguments, name);

    private static ToolProcess Start(string program, IEnumerable<string> way, IEnumerable<string> arguments, string name)
    {
        var path = Path.Combine(Folder, program);
        if (!File.Exists(path))
        {
            throw new BadInputException(ContainerCodes.NotInstalled, name, string.Empty, "It is read by ffmpeg, which is not installed here.", "Install the Debian package ffmpeg, and bring the file in again.");
        }

        var start = HelperProgram.With([.. way, path, .. arguments]);
        start.RedirectStandardError = true;
        var process = Process.Start(start)!;
        process.StandardInput.Close();
        return new ToolProcess(process);
    }

    /// <summary>Fills a block with what it writes.</summary>
    /// <returns>Bytes; fewer than asked for at its end only.</returns>
    public int Read(Span<byte> into)
    {
        var read = 0;
        while (read < into.Length)
        {
            _watch.Change(s_longest, Timeout.InfiniteTimeSpan);
            var count = _process.StandardOutput.BaseStream.Read(into[read..]);
            if (count == 0)
            {
                break;
            }

            read += count;
        }

        // While nobody reads, it may wait.
        _watch.Change(Timeout.InfiniteTimeSpan, Timeout.InfiniteTimeSpan);
        return read;
    }

    /// <summary>Fills a part of a block with what it wrote by now, and waits while that is nothing.</summary>
    /// <returns>Bytes; 0 at its end only.</returns>
    public int ReadSome(Span<byte> into)
    {
        _watch.Change(s_longest, Timeout.InfiniteTimeSpan);
        var count = _process.StandardOutput.BaseStream.Read(into);
        _watch.Change(Timeout.InfiniteTimeSpan, Timeout.InfiniteTimeSpan);
        return count;
    }

    /// <summary>Whether the kernel could not hold it to the file that it makes; known at its end.</summary>
    public bool WasNotConfined => _process.ExitCode == SndFile.NotConfined;

    /// <summary>Waits for its end, and says whether it did what it was to.</summary>
    public bool Succeeded()
    {
        _watch.Change(s_longest, Timeout.InfiniteTimeSpan);
        _process.WaitForExit();
        return !TookTooLong && _process.ExitCode == 0;
    }

    public void Dispose()
    {
        _ended = true;
        _watch.Dispose();
        if (!_process.HasExited)
        {
            _process.Kill();
        }

        _process.Dispose();
    }

    private void Note(string? line)
    {
        lock (_words)
        {
            if (line is not null && _words.Length < MostWords)
            {
                _words.Append(line).Append('\n');
            }
        }
    }

    private void EndTooLong()
    {
        if (!_ended)
        {
            TookTooLong = true;
            _process.Kill();
        }
    }
}
