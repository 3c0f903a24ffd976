using System.Globalization;
using Lyrotrans.Audio.Comparing;
using Lyrotrans.Audio.Pcm;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Build.Prints;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Proving;

/// <summary>
/// Compares one print with the session's own render of it: header, length, time stamp, the whole residual, and for a track's print clip by clip. Where a clip is
/// off, it is looked for nearby and its shift and level are measured.
/// </summary>
public sealed class SoundProof
{
    private const int Reach = 4800;
    private const int LongestSearch = 1 << 20;
    private const int MostSearches = 100;

    // And what another machine's arithmetic adds.
    private const double HalfStep = 0.501;
    private readonly DeliveryPlan _plan;
    private readonly PlannedFile _file;
    private readonly Printing _printing;
    private readonly double _loweredDb;
    private readonly string _name;
    private readonly Clip[] _clips;
    private readonly FileForm _form;
    private readonly PrintRule _rule;
    private readonly List<ProofRow> _rows = [];
    private readonly List<ClipDot> _dots = [];
    private readonly FoundSamples _found;
    private readonly double[][] _other;
    private readonly double[] _worst;
    private readonly RoundingCheck? _rounding;
    private bool _comparable;
    private double _peak;
    private double _loudest;
    private long _overs;
    private int _first;
    private int _searches;
    private double _boundDb;

    private SoundProof(DeliveryPlan plan, PlannedFile file, FoundSamples found, Printing printing, double loweredDb, bool knowsNoise)
    {
        _found = found;
        _other = Printing.Planar(file.Channels);
        _plan = plan;
        _file = file;
        _printing = printing;
        _loweredDb = loweredDb;
        var track = plan.Session.Tracks.FirstOrDefault(t => t.Id == file.TrackId);
        _name = NameOf(file, track);
        _form = file.Made;
        _clips = (track?.Sounding?.Clips ?? []).Where(c => !c.Muted && !printing.Silent.Contains(c.Media)).Select(Placed).Where(c => c.End > file.Span.Start && c.Start < file.Span.End).ToArray();
        _worst = new double[_clips.Length];
        _rule = printing.RuleOf(file, loweredDb);
        _rounding = knowsNoise && _rule.Dither != Dither.None ? new RoundingCheck(_form.Encoding, _rule.Dither, file.Channels) : null;
    }

    /// <summary>What was compared, with what came of it.</summary>
    public IReadOnlyList<ProofRow> Rows => _rows;

    /// <summary>Where each clip was meant to begin and where it was found.</summary>
    public IReadOnlyList<ClipDot> Dots => _dots;

    /// <summary>What is left between meant and found; null where nothing was compared.</summary>
    public SoundResidual? Residual { get; private set; }

    /// <summary>Samples above full scale that an integer file holds at it, and by how much the loudest was above.</summary>
    public SoundOvers? Overs { get; private set; }

    /// <summary>Compares a file with a print that is made for it alone.</summary>
    /// <param name="plan">What was meant.</param>
    /// <param name="file">The planned file.</param>
    /// <param name="sound">The found file.</param>
    /// <param name="printing">Makes what was meant.</param>
    /// <param name="loweredDb">What the package says that all files were lowered by.</param>
    /// <param name="knowsNoise">Whether it was written in the form of today, whose noise is known: then it is held to that.</param>
    /// <param name="stop">Stops between blocks.</param>
    public static SoundProof Prove(DeliveryPlan plan, PlannedFile file, SoundFile sound, Printing printing, double loweredDb, bool knowsNoise, CancellationToken stop)
    {
        using var print = printing.Open(file, loweredDb);
        var proof = Begin(plan, file, sound, printing, loweredDb, knowsNoise);
        var copied = sound.Source is PcmSource pcm ? new CopiedBlocks(print, pcm, proof._rule) : null;
        var meant = Printing.Planar(file.Channels);
        for (long at = 0; at < Math.Max(file.Frames, sound.Source.Length); at += Printing.Block)
        {
            stop.ThrowIfCancellationRequested();
            var count = (int)Math.Min(Printing.Block, Math.Max(file.Frames, sound.Source.Length) - at);
            if (copied?.AreEqual(at, count) != true)
            {
                print.Read(at, count, meant);
                proof.Take(at, count, meant);
            }
        }

        proof.Finish();
        return proof;
    }

    /// <summary>Begins to compare a file with a print that is made beside it, block after block.</summary>
    public static SoundProof Begin(DeliveryPlan plan, PlannedFile file, SoundFile sound, Printing printing, double loweredDb, bool knowsNoise)
    {
        var proof = new SoundProof(plan, file, new FoundSamples(sound), printing, loweredDb, knowsNoise);
        proof._comparable = proof.Header(sound);
        return proof;
    }

    /// <summary>The row of a file that cannot be read.</summary>
    public static ProofRow Broken(PlannedFile file, BadInputException problem) => new(Path.GetFileName(file.Path), "reading", "readable", problem.Message, "broken", false);

    // A clip of a file of another rate, at its samples.
    private Clip Placed(Clip clip)
    {
        var (from, to) = (_plan.Session.Rate, _form.Rate);
        return from == to ? clip : clip with { Start = from.Convert(clip.Start, to), Length = from.Convert(clip.End, to) - from.Convert(clip.Start, to) };
    }

    private static string NameOf(PlannedFile file, Track? track) => file.Kind switch
    {
        PlannedKind.GuideMix => "Guide mix",
        PlannedKind.FinishedMix => "Finished mix",
        PlannedKind.Stem => $"Stem {file.Group}",
        _ => file.Channel is { } channel ? $"{track!.Name}, channel {channel + 1}" : track!.Name,
    };

    private bool Header(SoundFile sound)
    {
        var facts = sound.Facts;
        Same("rate", _form.Rate.HeaderHz.ToString(CultureInfo.InvariantCulture), facts.Rate);
        Same("depth", _form.Encoding.Words(), facts.Encoding.Words());
        var channels = Same("channels", _file.Channels.ToString(CultureInfo.InvariantCulture), facts.Channels.ToString(CultureInfo.InvariantCulture));
        Count("length", _file.Frames, facts.Frames);
        if (_form.Container == SoundContainer.Wav)
        {
            Count("time stamp", PackageBuilder.TimeReference(_plan, _file), facts.TimeReference ?? -1);
        }

        if (TagProof.Row(_plan, _file, sound, _name) is { } tags)
        {
            _rows.Add(tags);
        }

        return channels;
    }

    /// <summary>The next samples that were meant; they are changed. Blocks may be left out that are known to be equal.</summary>
    public void Take(long at, int count, double[][] meant)
    {
        if (!_comparable)
        {
            return;
        }

        _found.Source.Read(at, count, _other);
        _loudest = Math.Max(_loudest, Loudest(meant, count));
        _rounding?.Take(meant, _other, count);
        _overs += meant.Sum(c => FullScale.Hold(c.AsSpan(0, count), _form.Encoding));
        _peak = Math.Max(_peak, Difference(meant, _other, 0, count));
        var start = _file.Span.Start + at;
        while (_first < _clips.Length && _clips[_first].End <= start)
        {
            _first++;
        }

        for (var i = _first; i < _clips.Length && _clips[i].Start < start + count; i++)
        {
            var from = (int)Math.Max(0, _clips[i].Start - start);
            var to = (int)Math.Clamp(_clips[i].End - start, from, count);
            _worst[i] = Math.Max(_worst[i], Difference(meant, _other, from, to));
        }
    }

    /// <summary>Says what came of it.</summary>
    public void Finish()
    {
        if (!_comparable)
        {
            return;
        }

        // A float's step grows with the sample: above full scale the bound is as far below the print's own peak.
        _boundDb = _rule.BoundDb + (_form.Encoding.IsFloat() ? Math.Max(0, Decibels.FromRatio(_loudest)) : 0);
        Residual = new SoundResidual(_name, Decibels.FromRatio(_peak), _boundDb, _rule.NeedsArithmetic, _file.Path);
        Row("sound", _rule.NeedsArithmetic ? $"residual below {Decibels.Words(_boundDb)} dBFS" : "bit-exact",
            Residual.BitExact ? "bit-exact" : $"{Decibels.Words(Residual.PeakDb)} dBFS", Residual.BitExact ? "−∞ dBFS" : $"{Decibels.Words(Residual.PeakDb)} dBFS", Residual.Passed);
        if (_rounding?.Worst > HalfStep)
        {
            Row("rounding", "the nearest step, with its own noise", $"{_rounding.Worst.ToString("0.000", CultureInfo.InvariantCulture)} steps beside it", "differs", false);
        }

        if (_rounding?.IsLost == true)
        {
            Row("rounding", "the nearest step, with its own noise", "not followed past a sample that is held at full scale", "stated", true);
        }

        if (_found.Damage(_name) is { } damage)
        {
            _rows.Add(damage);
        }

        if (_overs > 0)
        {
            Overs = new SoundOvers(_file.Path, _overs, Decibels.FromRatio(_loudest));
            Row("overs", $"{Digits.Grouped(_overs)} samples above full scale, by up to {Decibels.Words(Overs.PeakDb)} dB", "held at full scale", "stated", true);
        }

        for (var i = 0; i < _clips.Length; i++)
        {
            Clip(_clips[i], _worst[i]);
        }
    }

    /// <summary>One clip: on its sample with its gain, or where it was found instead.</summary>
    private void Clip(Clip clip, double worst)
    {
        var subject = $"{_name}, {clip.Name}";
        var start = clip.Start;
        var residual = new SoundResidual(subject, Decibels.FromRatio(worst), _boundDb, _rule.NeedsArithmetic);
        if (residual.Passed)
        {
            _dots.Add(new ClipDot(subject, 0));
            Add(subject, "start in the print", Samples(start), Samples(start), "0", true);
            Add(subject, "gain in the print", Db(clip.GainDb), Db(clip.GainDb), "0.000", true);
            return;
        }

        if (Search(clip) is not { } place)
        {
            _dots.Add(new ClipDot(subject, 0));
            Add(subject, "sound in the print", "as rendered", "other sound", $"{Decibels.Words(residual.PeakDb)} dBFS", false);
            return;
        }

        _dots.Add(new ClipDot(subject, place.Shift));
        Add(subject, "start in the print", Samples(start), Samples(start + place.Shift), Digits.Grouped(place.Shift), place.Shift == 0);
        Add(subject, "gain in the print", Db(clip.GainDb), Db(clip.GainDb + place.GainDb), place.GainDb.ToString("0.000", CultureInfo.InvariantCulture), Math.Abs(place.GainDb) <= 0.001);
        Add(subject, "sound in the print", $"residual below {Decibels.Words(_boundDb)} dBFS", $"{Decibels.Words(residual.PeakDb)} dBFS", "", false);
    }

    private Alignment? Search(Clip clip)
    {
        if (_searches++ >= MostSearches)
        {
            return null;
        }

        // A mix is made forwards only, so each search makes it anew.
        using var print = _printing.Open(_file, _loweredDb);
        var from = Math.Max(clip.Start, _file.Span.Start) - _file.Span.Start;
        var length = (int)Math.Min(Math.Min(clip.End, _file.Span.End) - _file.Span.Start - from, LongestSearch);
        var meant = new double[length];
        var around = new double[length + (2 * Reach)];
        Gather(from, meant, print.Read);
        Gather(from - Reach, around, _found.Source.Read);
        return Alignment.Of(meant, around, Reach);
    }

    // All channels summed: enough to find where a sound went.
    private void Gather(long from, double[] sum, Action<long, int, double[][]> read)
    {
        var block = Printing.Planar(_file.Channels);
        for (var at = 0; at < sum.Length; at += Printing.Block)
        {
            var count = Math.Min(Printing.Block, sum.Length - at);
            read(from + at, count, block);
            for (var i = 0; i < count; i++)
            {
                for (var c = 0; c < _file.Channels; c++)
                {
                    sum[at + i] += block[c][i];
                }
            }
        }
    }

    private static double Loudest(double[][] samples, int count)
    {
        var peak = 0.0;
        foreach (var channel in samples)
        {
            foreach (var value in channel.AsSpan(0, count))
            {
                peak = Math.Max(peak, Math.Abs(value));
            }
        }

        return peak;
    }

    private static double Difference(double[][] a, double[][] b, int from, int to)
    {
        var peak = 0.0;
        for (var c = 0; c < a.Length; c++)
        {
            var x = a[c].AsSpan(from, to - from);
            var y = b[c].AsSpan(from, to - from);
            for (var i = 0; i < x.Length; i++)
            {
                // Where one is no number, the difference is as large as any.
                var difference = Math.Abs(x[i] - y[i]);
                peak = Math.Max(peak, !double.IsNaN(difference) ? difference : x[i].Equals(y[i]) ? 0 : double.PositiveInfinity);
            }
        }

        return peak;
    }

    private void Count(string what, long meant, long found) =>
        Row(what, Samples(meant), Samples(found), Digits.Grouped(found - meant), meant == found);

    private bool Same(string what, string meant, string found)
    {
        Row(what, meant, found, meant == found ? "0" : "differs", meant == found);
        return meant == found;
    }

    private void Row(string what, string meant, string found, string difference, bool passed) => Add(_name, what, meant, found, difference, passed);

    private void Add(string subject, string what, string meant, string found, string difference, bool passed) =>
        _rows.Add(new ProofRow(subject, what, meant, found, difference, passed));

    private static string Samples(long value) => $"{Digits.Grouped(value)} samples";

    private static string Db(double value) => $"{Decibels.Words(value, 3)} dB";
}
