using System.Globalization;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Demo;

/// <summary>The reference picture: planets that go round a lamp, with the timecode and the frame's number in it, and a hum as its sound. Long groups of pictures, as cameras and editors make them.</summary>
internal static class DemoPicture
{
    private const int Width = 480;
    private const int Height = 270;
    private const int FramesPerSecond = 25;
    private const string Start = "10:00:00:00";
    private const byte Ink = 225;

    // Digits of 3 by 5 dots, row by row, and the colon.
    private static readonly int[] s_digits = [0b111101101101111, 0b010110010010111, 0b111001111100111, 0b111001111001111, 0b101101111001001, 0b111100111001111, 0b111100111101111, 0b111001001001001, 0b111101111101111, 0b111101111001111, 0b000010000010000];

    /// <summary>How many there are.</summary>
    public static long FramesOf(double scale) => (long)(75.4 * scale * FramesPerSecond);

    public static void Write(string path, double scale) => Write(path, FramesOf(scale), FrameRate.Fps25, Start, sound: true);

    /// <summary>One of so many frames, at another rate and from another timecode on.</summary>
    public static void Write(string path, long frames, FrameRate rate, string start, bool sound)
    {
        Directory.CreateDirectory(Path.GetDirectoryName(path)!);
        var seconds = (frames / rate.PerSecond.ToDouble()).ToString(CultureInfo.InvariantCulture);
        _ = Timecode.TryParse(start, rate, out var first);
        string[] arguments =
        [
            "-f", "rawvideo", "-pix_fmt", "gray", "-s", $"{Width}x{Height}", "-r", $"{rate.PerSecond}", "-i", "pipe:0",
            .. sound ? ["-f", "lavfi", "-i", $"sine=frequency=110:sample_rate=48000:duration={seconds}", "-c:a", "pcm_s16le", "-ac", "2"] : Array.Empty<string>(),
            "-c:v", "libx264", "-preset", "veryfast", "-g", "50", "-threads", "2", "-pix_fmt", "yuv420p", "-timecode", start, "-fflags", "+bitexact", "-flags", "+bitexact", "-f", "mov", path,
        ];
        DemoTool.Run(arguments, output =>
        {
            var frame = new byte[Width * Height];
            for (long i = 0; i < frames; i++)
            {
                Draw(frame, i, first with { Frames = first.Frames + i });
                output.Write(frame);
            }
        });
    }

    private static void Draw(byte[] frame, long number, Timecode at)
    {
        for (var y = 0; y < Height; y++)
        {
            frame.AsSpan(y * Width, Width).Fill((byte)(28 + (y / 10)));
        }

        var turn = number / (double)FramesPerSecond;
        Disc(frame, Width / 2.0, 122, 13 + (2 * Math.Sin(turn)), Ink);
        for (var planet = 0; planet < 5; planet++)
        {
            var (far, pace) = (36.0 + (planet * 19), 1.4 / (1 + (planet * 0.7)));
            var angle = (turn * pace) + (planet * 1.3);
            Disc(frame, (Width / 2.0) + (far * 1.8 * Math.Cos(angle)), 122 + (far * Math.Sin(angle)), 4 + planet, (byte)(120 + (planet * 20)));
        }

        // A comet that crosses once in ten seconds.
        Disc(frame, number % 250 * Width / 250.0, 20 + (number % 250 * 0.2), 3, Ink);
        Digits(frame, 12, Height - 32, at.ToString());
        Digits(frame, Width - 90, Height - 32, number.ToString("00000", CultureInfo.InvariantCulture));
    }

    private static void Disc(byte[] frame, double x, double y, double radius, byte level)
    {
        for (var row = Math.Max(0, (int)(y - radius)); row <= Math.Min(Height - 1, (int)(y + radius)); row++)
        {
            var half = Math.Sqrt(Math.Max(0, (radius * radius) - ((row - y) * (row - y))));
            for (var column = Math.Max(0, (int)(x - half)); column <= Math.Min(Width - 1, (int)(x + half)); column++)
            {
                frame[(row * Width) + column] = level;
            }
        }
    }

    private static void Digits(byte[] frame, int x, int y, string text)
    {
        const int Dot = 4;
        foreach (var c in text)
        {
            var dots = s_digits[char.IsAsciiDigit(c) ? c - '0' : 10];
            for (var bit = 0; bit < 15; bit++)
            {
                if ((dots >> (14 - bit) & 1) == 1)
                {
                    for (var row = 0; row < Dot; row++)
                    {
                        frame.AsSpan(((y + (bit / 3 * Dot) + row) * Width) + x + (bit % 3 * Dot), Dot).Fill(Ink);
                    }
                }
            }

            x += 4 * Dot;
        }
    }
}
