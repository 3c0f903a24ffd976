using System.Globalization;
using System.Security.Cryptography;
using Lyrotrans.Audio.Pictures;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Pictures;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Time;
using Lyrotrans.Workflow.Build;

namespace Lyrotrans.Workflow.Proving;

/// <summary>Holds the picture of a package to the one that it was made from: its frames by their hashes, or by what is seen where they were coded anew; its timecode; and that no sound is in it.</summary>
/// <remarks>docs/formats/picture.md, section 3.</remarks>
internal sealed class PictureProof(PicturePlan plan, PlannedFile file, PictureSource source, PictureSource found, CancellationToken stop)
{
    // Of 255: what coding anew may change of a small grey frame on average; another frame is further away wherever something moves.
    private const double MostApart = 12;
    private readonly List<ProofRow> _rows = [];
    private readonly string _name = Path.GetFileName(file.Path);

    /// <summary>A row for each thing that was compared.</summary>
    /// <exception cref="BadInputException">One of the two cannot be read.</exception>
    public IReadOnlyList<ProofRow> Rows()
    {
        var (theirs, ours) = (source.Packets(stop), found.Packets(stop));
        var way = PictureWay.Of(source, plan, theirs);
        var sound = found.Facts.Streams.Sum(s => s.Channels);
        Row("sound left out", "no channel", Phrases.Count(sound, "channel"), sound == 0 ? "0" : "not left out", sound == 0);
        Row("frames a second", Frames(source), Frames(found), Frames(source) == Frames(found) ? "0" : "differs", Frames(source) == Frames(found));
        Row("frames", Digits.Grouped(way.Frames), Digits.Grouped(ours.Seen), Digits.Grouped(ours.Seen - way.Frames), ours.Seen == way.Frames);
        if (!PictureFile.GoesAsItLies(plan, source) && plan.OwnStart is { } start)
        {
            var says = found.Facts.StartSeconds is { } seconds ? new Timecode((seconds * start.Rate.PerSecond).RoundToEven(), start.Rate) : (Timecode?)null;
            Row("timecode of its first frame", start.ToString(), says?.ToString() ?? "none", says is { } said ? Digits.Grouped(said.Frames - start.Frames) : "none", says == start);
        }

        if (PictureFile.GoesAsItLies(plan, source))
        {
            var sha256 = Hash(found.Path);
            Row("the file itself, by its SHA-256", plan.Source.Sha256![..16], sha256[..16], sha256 == plan.Source.Sha256 ? "0" : "differs", sha256 == plan.Source.Sha256);
        }
        else if (way.IsCopy)
        {
            Copied(theirs, ours, way);
        }
        else
        {
            Seen(way);
        }

        return _rows;
    }

    private void Copied(PicturePackets theirs, PicturePackets ours, PictureWay way)
    {
        var meant = theirs.All.Skip(way.FirstPacket).ToList();
        var other = meant.Where((p, i) => i >= ours.All.Count || p.Sha256 != ours.All[i].Sha256).Count() + Math.Max(0, ours.All.Count - meant.Count);
        Row("frames by their SHA-256", Digits.Grouped(meant.Count), Digits.Grouped(ours.All.Count), Digits.Grouped(other), other == 0);
        if (source.Picture.Tick is not { } tick || found.Picture.Tick is not { } ownTick || ours.Seen != theirs.Seen - way.FirstFrame)
        {
            return;
        }

        // When each is seen, from the first on, to half a millisecond: files count time in ticks of their own.
        var bound = new Rational(1, 2000);
        var off = Enumerable.Range(0, ours.Seen).Count(i => Apart(((theirs.TimeOf(way.FirstFrame + i) - theirs.TimeOf(way.FirstFrame)) * tick) - ((ours.TimeOf(i) - ours.TimeOf(0)) * ownTick)) > bound);
        Row("when frames are seen", Digits.Grouped(ours.Seen), Digits.Grouped(ours.Seen - off), Digits.Grouped(off), off == 0);
    }

    private void Seen(PictureWay way)
    {
        using var theirs = PictureGlance.Open(source);
        using var ours = PictureGlance.Open(found);
        var (before, at, after, own) = (new byte[PictureGlance.FrameBytes], new byte[PictureGlance.FrameBytes], new byte[PictureGlance.FrameBytes], new byte[PictureGlance.FrameBytes]);
        for (long i = 0; i < way.FirstFrame && theirs.Read(before); i++)
        {
            stop.ThrowIfCancellationRequested();
        }

        var (worst, here, earlier, later, compared) = (0.0, 0.0, 0.0, 0.0, 0L);
        var (hasBefore, hasAt) = (way.FirstFrame > 0, theirs.Read(at));
        while (hasAt && ours.Read(own))
        {
            stop.ThrowIfCancellationRequested();
            var hasAfter = theirs.Read(after);
            var apart = PictureGlance.Apart(at, own);
            (worst, compared) = (Math.Max(worst, apart), compared + 1);

            // Only frames with one on both sides say whether a neighbour would fit better.
            if (hasBefore && hasAfter)
            {
                (here, earlier, later) = (here + apart, earlier + PictureGlance.Apart(before, own), later + PictureGlance.Apart(after, own));
            }

            (before, at, after) = (at, after, before);
            (hasBefore, hasAt) = (true, hasAfter);
        }

        Row("frames seen", Digits.Grouped(way.Frames), Digits.Grouped(compared), Digits.Grouped(compared - way.Frames), compared == way.Frames);
        Row($"coded anew: {way.Why}; levels of pixels, most apart", $"at most {MostApart:0} of 255", Number(worst), Number(worst), worst <= MostApart);
        var fits = here <= Math.Min(earlier, later);
        Row("at its place", "no neighbour fits better", fits ? "none does" : earlier < later ? "the frame before does" : "the frame after does", fits ? "0" : "1 frame", fits);
    }

    private static string Hash(string path)
    {
        using var stream = File.OpenRead(path);
        return Convert.ToHexStringLower(SHA256.HashData(stream));
    }

    private static Rational Apart(Rational by) => by.Sign < 0 ? -by : by;

    private static string Number(double value) => value.ToString("0.00", CultureInfo.InvariantCulture);

    private static string Frames(PictureSource of) => of.Picture.FramesPerSecond?.ToString() ?? "not said";

    private void Row(string what, string meant, string was, string difference, bool passed) => _rows.Add(new ProofRow(_name, what, meant, was, difference, passed));
}
