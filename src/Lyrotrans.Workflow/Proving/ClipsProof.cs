using System.Security.Cryptography;
using Lyrotrans.Audio.Render;
using Lyrotrans.Core.Clips;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Formats.Sessions;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Proving;

/// <summary>
/// Reads a file of clips back, as any reader would, and compares every clip, fade, gain, curve, pan and marker with what was meant, and every medium's
/// samples with the session's own.
/// </summary>
public sealed class ClipsProof
{
    private readonly DeliveryPlan _plan;
    private readonly ClipPlan _meant;
    private readonly IMediaOpener _opener;
    private readonly IMediaFiles _files;
    private readonly CancellationToken _stop;
    private readonly string _name;
    private readonly List<ProofRow> _rows = [];
    private readonly List<ClipDot> _dots = [];

    private readonly string _form;

    private ClipsProof(DeliveryPlan plan, int part, string name, IMediaOpener opener, IMediaFiles files, CancellationToken stop)
    {
        _plan = plan;
        _meant = plan.ClipFiles[part];
        _form = plan.Preparation.Clips.Format.Id + (plan.ClipFiles.Count > 1 ? $" {part + 1}" : string.Empty);
        _name = name;
        _opener = opener;
        _files = files;
        _stop = stop;
    }

    /// <summary>What was compared, with what came of it.</summary>
    public IReadOnlyList<ProofRow> Rows => _rows;

    /// <summary>Where each clip was meant to begin and where it was found.</summary>
    public IReadOnlyList<ClipDot> Dots => _dots;

    /// <summary>The session that the file says.</summary>
    public Session Found { get; private set; } = new() { Name = string.Empty };

    /// <param name="plan">With clips.</param>
    /// <param name="part">Which of its files of clips, from 0.</param>
    /// <param name="path">The file of clips on disk.</param>
    /// <param name="name">For people.</param>
    /// <param name="beside">Opens a medium beside it by its name; null where it is not there.</param>
    /// <param name="opener">Opens the session's media.</param>
    /// <param name="files">Where they lie.</param>
    /// <param name="stop">Stops between blocks.</param>
    /// <exception cref="Core.Errors.BadInputException">It cannot be read at all.</exception>
    public static ClipsProof Prove(DeliveryPlan plan, int part, string path, string name, Func<string, Stream?> beside, IMediaOpener opener, IMediaFiles files, CancellationToken stop)
    {
        var proof = new ClipsProof(plan, part, name, opener, files, stop);
        using var stream = File.OpenRead(path);
        proof.Prove(SessionDocuments.Open(stream, name), beside);
        return proof;
    }

    private void Prove(ISessionDocument document, Func<string, Stream?> beside)
    {
        var (found, findings, media, _, _) = document.ReadSession();
        _rows.AddRange(SessionComparison.Compare(_meant.Session, found, HeldValues.OfClips).Select(r => r with { Subject = $"{_form}: {r.Subject}" }));
        _rows.AddRange(HeldValues.OfClips.NotCompared.Select(n => new ProofRow($"{_form}: {n.Key.Type.Name.ToLowerInvariant()}", ValueDifferences.Words(n.Key.Field), "not compared", n.Value, "stated", true)));
        _rows.AddRange(findings.Select(f => new ProofRow($"{_form}: reading", "finding", "stated", f.Text, "stated", true)));
        AddDots(found);
        Found = found;
        foreach (var medium in _meant.Media.Where(m => !m.IsMissing))
        {
            _stop.ThrowIfCancellationRequested();
            Sound(medium, media.TryGetValue(medium.Media.Id, out var edit) ? edit : null, edit is null ? null : document.OpenEssence(medium.Media.Id) ?? beside(medium.Media.FileName));
        }
    }

    private void AddDots(Session found)
    {
        var clips = new Dictionary<string, Clip>();
        foreach (var clip in found.Tracks.SelectMany(t => t.Lanes).SelectMany(l => l.Clips).Where(c => !clips.TryAdd(c.Id, c)))
        {
            _rows.Add(new ProofRow($"{_form}: {clip.Name}", "identifier", "once", "twice", "twice", false));
        }

        var missing = _meant.Media.Where(m => m.IsMissing).Select(m => m.Media.Id).ToHashSet();
        foreach (var track in _meant.Session.Tracks)
        {
            foreach (var clip in track.Lanes.SelectMany(l => l.Clips).Where(c => !missing.Contains(c.Media)))
            {
                if (clips.TryGetValue(clip.Id, out var other))
                {
                    // Both ends and the sound inside: the worst of them is how far the clip is off.
                    long[] off = [other.Start - clip.Start, other.End - clip.End, other.SourceOffset - clip.SourceOffset];
                    _dots.Add(new ClipDot($"{_form}: {track.Name}, {clip.Name}", off.MaxBy(Math.Abs)));
                }
            }
        }
    }

    /// <summary>The samples of a medium, all of them, by their hash.</summary>
    private void Sound(ClipMedia medium, DocumentMedia? edit, Stream? stream)
    {
        var subject = $"{_form}: {medium.Media.FileName}";
        if (edit is null || stream is null)
        {
            _rows.Add(new ProofRow(subject, "sound", "there", "missing", "missing", false));
            return;
        }

        using (stream)
        {
            var meant = new ClipSound(_plan, medium, _opener, _files, _stop);
            using var hashing = new HashingStream(Stream.Null);
            meant.WriteSamples(hashing);
            var (hash, bytes) = Samples(stream, medium.Media.FileName);
            var expected = hashing.Sha256();
            _rows.Add(new ProofRow(
                subject, "sound", $"{Digits.Grouped(medium.Media.Length)} samples, {expected[..16]}", $"{Digits.Bytes(bytes)}, {hash[..16]}", hash == expected ? "0" : "differs", hash == expected));
        }
    }

    private (string Hash, long Bytes) Samples(Stream stream, string name)
    {
        var layout = LinearSound.Read(stream, name)?.Layout;
        stream.Position = layout?.DataOffset ?? 0;
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        var buffer = new byte[1 << 18];
        var total = layout?.DataBytes ?? stream.Length;
        for (var left = total; left > 0;)
        {
            _stop.ThrowIfCancellationRequested();
            var count = stream.Read(buffer, 0, (int)Math.Min(left, buffer.Length));
            if (count == 0)
            {
                break;
            }

            hash.AppendData(buffer, 0, count);
            left -= count;
        }

        return (Convert.ToHexStringLower(hash.GetHashAndReset()), total);
    }
}
