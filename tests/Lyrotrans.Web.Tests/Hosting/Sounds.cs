using System.Buffers.Binary;
using System.Security.Cryptography;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Wave;

namespace Lyrotrans.Web.Tests.Hosting;

/// <summary>Small sound files and sessions for tests over HTTP.</summary>
internal static class Sounds
{
    public const int Frames = 24_000;

    /// <summary>Half a second of noise, mono, 16 bits; each seed sounds different.</summary>
    public static byte[] Noise(int seed)
    {
        var head = WaveWriter.Head(new PcmLayout(SampleEncoding.Integer16, false, 1, SampleRate.Hz48000, 0, Frames));
        var bytes = new byte[head.Length + (2 * Frames)];
        head.CopyTo(bytes, 0);
        var random = new Random(seed);
        for (var i = head.Length; i < bytes.Length; i += 2)
        {
            BinaryPrimitives.WriteInt16LittleEndian(bytes.AsSpan(i), (short)random.Next(-9000, 9000));
        }

        return bytes;
    }

    public static string Hash(byte[] bytes) => Convert.ToHexStringLower(SHA256.HashData(bytes));

    /// <summary>A session document whose tracks each show a whole file, named by its hash, as an attacker or an earlier package would write it.</summary>
    public static byte[] Naming(params (string Name, string Sha256)[] files) => SessionDocumentWriter.Write(new Session
    {
        Name = "Orrery Suite",
        Media = files.Select(f => new Media
        {
            Id = f.Name,
            FileName = $"{f.Name}.wav",
            Encoding = SampleEncoding.Integer16,
            Channels = 1,
            Length = Frames,
            Place = MediaPlace.Beside,
            Sha256 = f.Sha256,
            Identifiers = [f.Sha256],
        }).ToValueArray(),
        Tracks = files.Select(f => new Track
        {
            Id = f.Name,
            Name = f.Name,
            Lanes = [new Lane("comp", [new Clip { Id = f.Name, Name = f.Name, Media = f.Name, ChannelMap = [0], Length = Frames }])],
        }).ToValueArray(),
    });
}
