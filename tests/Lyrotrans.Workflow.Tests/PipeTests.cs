using System.Diagnostics;
using System.Net.Sockets;
using Lyrotrans.Audio.Native;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Packing;

namespace Lyrotrans.Workflow.Tests;

/// <summary>A folder in which a pipe and a socket lie among the files: nobody waits for them.</summary>
public sealed class PipeTests(DemoSession demo) : IDisposable
{
    private static readonly TimeSpan s_patience = TimeSpan.FromMinutes(2);
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-pipes-").FullName;
    private readonly Socket _socket = new(AddressFamily.Unix, SocketType.Stream, ProtocolType.Unspecified);

    public void Dispose()
    {
        _socket.Dispose();
        Directory.Delete(_folder, recursive: true);
    }

    private void MakeOdd()
    {
        foreach (var name in new[] { "pipe.wav", "a.session.json" })
        {
            using var made = Process.Start("mkfifo", [Path.Combine(_folder, name)]);
            made.WaitForExit();
        }

        _socket.Bind(new UnixDomainSocketEndPoint(Path.Combine(_folder, "s.wav")));
        File.WriteAllBytes(Path.Combine(_folder, "empty.wav"), []);
    }

    [Fact]
    public void Pipes_and_sockets_are_no_files_and_empty_files_are()
    {
        MakeOdd();
        Assert.Equal(["empty.wav"], FolderFiles.Of(_folder).Files.Select(Path.GetFileName));
        Assert.False(PlainFiles.Is(Path.Combine(_folder, "pipe.wav")));
        Assert.False(PlainFiles.Is(Path.Combine(_folder, "s.wav")));
        Assert.False(PlainFiles.Is(Path.Combine(_folder, "gone.wav")));
    }

    [Fact]
    public async Task A_folder_and_a_document_beside_a_pipe_are_read_to_their_end()
    {
        MakeOdd();
        foreach (var file in Directory.EnumerateFiles(Path.Combine(demo.Folder, "stamped"), "*.wav").Take(2))
        {
            File.Copy(file, Path.Combine(_folder, Path.GetFileName(file)));
        }

        var loaded = await Task.Run(() => SessionLoader.Load(_folder, Path.Combine(_folder, "scratch"))).WaitAsync(s_patience, TestContext.Current.CancellationToken);
        Assert.Equal(2, loaded.Session.Tracks.Count(t => t.Lanes.Count > 0));
        var aaf = Path.Combine(_folder, "x.aaf");
        Converting.SessionConvert.Write(demo.Loaded, Converting.SessionConvert.AllAsClips(demo.Loaded.Session) with { Clips = Choose.Otio }, Path.ChangeExtension(aaf, ".otio"), DemoSession.Maker, CancellationToken.None);
        var again = await Task.Run(() => SessionLoader.Load(Path.ChangeExtension(aaf, ".otio"), Path.Combine(_folder, "scratch"))).WaitAsync(s_patience, TestContext.Current.CancellationToken);
        Assert.NotEmpty(again.Session.Tracks);
    }
}
