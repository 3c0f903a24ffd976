using System.Buffers.Binary;
using Lyrotrans.Core.Collections;
using Lyrotrans.Formats.Midi;

namespace Lyrotrans.Mutate;

/// <summary>What can be changed in a MIDI file: of each kind of event the first one, its place and each of its bytes.</summary>
internal static class MidiMutations
{
    public static IEnumerable<Mutation> Of(string path, byte[] midi)
    {
        yield return Mutation.OfFile(path, "another count of tracks in its header", b => Word(b, 10, 1));
        yield return Mutation.OfFile(path, "another form in its header", b => Word(b, 8, 1));
        yield return Mutation.OfFile(path, "another division", b => Word(b, 12, 1));
        yield return Mutation.OfFile(path, "bytes behind its tracks", b => [.. b, .. "MTrk"u8, 0, 0, 0, 4, 0, 0xFF, 0x2F, 0]);
        yield return Mutation.OfFile(path, "a chunk of another kind", b => [.. b[..14], .. "XFIH"u8, 0, 0, 0, 2, 1, 2, .. b[14..]]);
        var file = SmfReader.Read(new MemoryStream(midi), path);
        var seen = new HashSet<string>();
        for (var t = 0; t < file.Tracks.Count; t++)
        {
            for (var e = 0; e < file.Tracks[t].Events.Count; e++)
            {
                var one = file.Tracks[t].Events[e];
                var kind = $"{(one.IsMeta ? one.Status : one.Kind):X2} {one.Meta:X2}";
                if (!seen.Add(kind))
                {
                    continue;
                }

                foreach (var (how, changed) in Changes(file, t, e, one))
                {
                    yield return Mutation.OfFile(path, $"event {kind}: {how}", _ => SmfWriter.Write(changed));
                }
            }
        }
    }

    private static IEnumerable<(string How, SmfFile File)> Changes(SmfFile file, int track, int at, SmfEvent one)
    {
        SmfFile With(IEnumerable<SmfEvent> events) => file with { Tracks = file.Tracks.Select((t, i) => i == track ? t with { Events = events.ToValueArray() } : t).ToValueArray() };
        var events = file.Tracks[track].Events;
        yield return ("left out", With(events.Where((_, i) => i != at)));
        yield return ("twice", With(events.SelectMany((x, i) => i == at ? [x, x] : new[] { x })));
        if (at + 1 < events.Count && events[at + 1].Tick > one.Tick)
        {
            yield return ("a tick later", With(events.Select((x, i) => i == at ? x with { Tick = x.Tick + 1 } : x)));
        }

        for (var b = 0; b < one.Data.Count; b++)
        {
            var place = b;
            yield return ($"byte {b} changed", With(events.Select((x, i) => i == at ? x with { Data = x.Data.Select((d, n) => n == place ? (byte)(d ^ 1) : d).ToValueArray() } : x)));
        }
    }

    private static byte[] Word(byte[] bytes, int at, int more)
    {
        var copy = (byte[])bytes.Clone();
        BinaryPrimitives.WriteUInt16BigEndian(copy.AsSpan(at), (ushort)(BinaryPrimitives.ReadUInt16BigEndian(copy.AsSpan(at)) + more));
        return copy;
    }
}
