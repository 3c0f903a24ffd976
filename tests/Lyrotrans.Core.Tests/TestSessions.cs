using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Tests;

/// <summary>Small sessions for tests.</summary>
public static class TestSessions
{
    public static Media Media(string id = "m", long length = 480_000, int channels = 1) =>
        new() { Id = id, FileName = id + ".wav", Rate = SampleRate.Hz48000, Encoding = SampleEncoding.Integer24, Channels = channels, Length = length };

    public static Clip Clip(string id, long start, long length, long offset = 0, long fadeIn = 0, long fadeOut = 0) => new()
    {
        Id = id,
        Name = id,
        Media = "m",
        Start = start,
        Length = length,
        SourceOffset = offset,
        FadeIn = new Fade(fadeIn),
        FadeOut = new Fade(fadeOut),
    };

    public static Track Track(string name, params Clip[] clips) =>
        new() { Id = name, Name = name, Lanes = [new Lane("main", clips.ToValueArray())] };

    public static Session Of(params Track[] tracks) => new() { Name = "Test", Media = [Media()], Tracks = tracks.ToValueArray() };
}
