using System.IO.Compression;
using System.Security.Cryptography;
using System.Text;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Workflow.Signing;

namespace Lyrotrans.Workflow.Tests;

/// <summary>Changes one file of a package and puts its hash right wherever it is said and signs it again, so that only the contents can give it away.</summary>
public static class PackageTamper
{
    public static string With(string zip, string ending, Func<byte[], byte[]> change, SigningKey? key = null)
    {
        var entries = new List<(string Name, byte[] Bytes)>();
        using (var archive = ZipFile.OpenRead(zip))
        {
            foreach (var entry in archive.Entries)
            {
                using var stream = entry.Open();
                var copy = new MemoryStream();
                stream.CopyTo(copy);
                entries.Add((entry.FullName, copy.ToArray()));
            }
        }

        var at = entries.FindIndex(e => e.Name.EndsWith(ending, StringComparison.Ordinal));
        var (name, before) = entries[at];
        var after = change(before);
        entries[at] = (name, after);
        var hashes = new Dictionary<string, string> { [Hash(before)] = Hash(after) };
        foreach (var said in new[] { ".html", "manifest.json", "SHA256SUMS" }.Where(e => e != ending).Select(e => entries.FindIndex(x => x.Name.EndsWith(e, StringComparison.Ordinal))).Where(i => i >= 0))
        {
            var text = hashes.Aggregate(Encoding.UTF8.GetString(entries[said].Bytes), (t, h) => t.Replace(h.Key, h.Value, StringComparison.Ordinal));
            text = System.Text.RegularExpressions.Regex.Replace(text, $"\"bytes\": {before.Length}\\b", $"\"bytes\": {after.Length}");
            hashes[Hash(entries[said].Bytes)] = Hash(Encoding.UTF8.GetBytes(text));
            entries[said] = (entries[said].Name, Encoding.UTF8.GetBytes(text));
        }

        if (ending != "manifest.sig")
        {
            var signature = entries.FindIndex(e => e.Name.EndsWith("manifest.sig", StringComparison.Ordinal));
            entries[signature] = (entries[signature].Name, DetachedSignature.Sign(entries.First(e => e.Name.EndsWith("manifest.json", StringComparison.Ordinal)).Bytes, key ?? DemoSession.Maker.Key).ToJson());
        }

        var path = zip + ".changed";
        using var output = new ZipArchive(File.Create(path), ZipArchiveMode.Create);
        foreach (var (entryName, bytes) in entries)
        {
            using var stream = output.CreateEntry(entryName, CompressionLevel.NoCompression).Open();
            stream.Write(bytes);
        }

        return path;
    }

    /// <summary>The package as a machine of another kind would have stamped it.</summary>
    public static string OfOtherMachine(string zip) =>
        With(zip, "manifest.json", b => Encoding.UTF8.GetBytes(Encoding.UTF8.GetString(b).Replace("\"processor\": \"", "\"processor\": \"other than ", StringComparison.Ordinal)));

    /// <summary>The bytes of a file of a package.</summary>
    public static byte[] Read(string zip, string ending)
    {
        using var archive = ZipFile.OpenRead(zip);
        using var stream = archive.Entries.Single(e => e.FullName.EndsWith(ending, StringComparison.Ordinal)).Open();
        using var copy = new MemoryStream();
        stream.CopyTo(copy);
        return copy.ToArray();
    }

    /// <summary>Sound later by some samples; the same length.</summary>
    public static byte[] Shifted(byte[] wave, int samples)
    {
        var (offset, frame, bytes) = Data(wave);
        var result = (byte[])wave.Clone();
        Array.Copy(wave, offset, result, offset + (samples * frame), bytes - (samples * frame));
        Array.Clear(result, offset, samples * frame);
        return result;
    }

    /// <summary>24-bit sound at another level.</summary>
    public static byte[] Louder(byte[] wave, double decibels)
    {
        var (offset, _, bytes) = Data(wave);
        var result = (byte[])wave.Clone();
        var ratio = Math.Pow(10, decibels / 20);
        for (var i = offset; i + 2 < offset + bytes; i += 3)
        {
            var value = (int)Math.Round(((wave[i] << 8) | (wave[i + 1] << 16) | (wave[i + 2] << 24)) / 256 * ratio);
            (result[i], result[i + 1], result[i + 2]) = ((byte)value, (byte)(value >> 8), (byte)(value >> 16));
        }

        return result;
    }

    private static (int Offset, int Frame, int Bytes) Data(byte[] wave)
    {
        var layout = WaveReader.Read(new MemoryStream(wave), "t.wav").Layout;
        return ((int)layout.DataOffset, layout.BytesPerFrame, (int)layout.DataBytes);
    }

    private static string Hash(byte[] bytes) => Convert.ToHexStringLower(SHA256.HashData(bytes));
}
