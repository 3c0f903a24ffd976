using System.IO.MemoryMappedFiles;
using System.Runtime.InteropServices;

namespace Lyrotrans.Decoder;

/// <summary>Answers questions one after the other until there are no more.</summary>
internal sealed class DecoderLoop(BinaryReader questions, BinaryWriter answers, MemoryMappedViewAccessor samples)
{
    private readonly Dictionary<int, OpenSound> _open = [];
    private int _last;

    public void Run()
    {
        while (Next() is { } question)
        {
            switch (question)
            {
                case DecoderQuestion.Open:
                    Open(questions.ReadString());
                    break;
                case DecoderQuestion.Read:
                    Read(questions.ReadInt32(), questions.ReadInt64(), questions.ReadInt32());
                    break;
                default:
                    Close(questions.ReadInt32());
                    break;
            }

            answers.Flush();
        }
    }

    private DecoderQuestion? Next()
    {
        try
        {
            return (DecoderQuestion)questions.ReadByte();
        }
        catch (EndOfStreamException)
        {
            return null;
        }
    }

    private void Open(string path)
    {
        var info = default(SndFile.Info);
        var file = SndFile.Open(path, SndFile.Read, ref info);
        if (file == 0)
        {
            answers.Write(false);
            answers.Write(SndFile.Error(0));
            return;
        }

        _open[++_last] = new OpenSound { File = file, Channels = info.Channels };
        answers.Write(true);
        answers.Write(_last);
        answers.Write(info.Frames);
        answers.Write(info.SampleRate);
        answers.Write(info.Channels);
        answers.Write(info.Format);
    }

    private void Read(int number, long first, int frames)
    {
        var sound = _open[number];
        if (sound.Position != first)
        {
            SndFile.Seek(sound.File, first, 0);
        }

        var read = (int)SndFile.ReadFloats(sound.File, Memory(frames * sound.Channels), frames);
        sound.Position = first + read;
        answers.Write(true);
        answers.Write(read);
    }

    private unsafe Span<float> Memory(int count)
    {
        SafeBuffer handle = samples.SafeMemoryMappedViewHandle;
        byte* at = null;
        handle.AcquirePointer(ref at);
        handle.ReleasePointer();
        return new Span<float>(at, checked((int)handle.ByteLength) / sizeof(float))[..count];
    }

    private void Close(int number)
    {
        _ = SndFile.Close(_open[number].File);
        _open.Remove(number);
        answers.Write(true);
    }

    private sealed class OpenSound
    {
        public required nint File { get; init; }

        public required int Channels { get; init; }

        public long Position { get; set; }
    }
}
