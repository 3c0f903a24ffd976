using CsCheck;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Midi;

namespace Lyrotrans.Formats.Tests;

/// <summary>A written tempo map against the session's own, up to two hours long.</summary>
public class TempoStepsTests
{
    private const int MostSeconds = 7200;
    private static readonly long[] s_rates = [44_100, 48_000, 96_000, 192_000];

    private static readonly Gen<TempoMap> s_map =
        from first in Gen.Int[-8, 0]
        from steps in Gen.Select(Gen.Int[1, 2400], Gen.Int[3_000, 26_000], Gen.Bool).List[0, 24]
        from tempo in Gen.Int[4_000, 24_000]
        select Map(first, tempo, steps);

    private static readonly Gen<MeterMap> s_meters =
        from changes in Gen.Select(Gen.Int[1, 60], Gen.Int[1, 13], Gen.Int[1, 4].Select(p => 1 << p)).List[0, 6]
        select Meters(changes);

    private static TempoMap Map(int first, int tempo, List<(int Quarters, int Tempo, bool Ramp)> steps)
    {
        var points = new List<TempoPoint> { new(first, new Rational(tempo, 100), steps.Count > 0 && steps[0].Ramp) };
        Rational quarter = first;
        foreach (var (eighths, next, ramp) in steps)
        {
            quarter += new Rational(eighths, 2);
            points.Add(new TempoPoint(quarter, new Rational(next, 100), ramp));
        }

        return new TempoMap(points.ToValueArray());
    }

    private static MeterMap Meters(List<(int Bars, int Beats, int Unit)> changes)
    {
        var bar = 1L;
        var list = new List<MeterChange> { new(1, 4, 4) };
        foreach (var (bars, beats, unit) in changes)
        {
            bar += bars;
            list.Add(new MeterChange(bar, beats, unit));
        }

        return new MeterMap(list.ToValueArray());
    }

    // A session that is as long as its last note, held at two hours.
    private static Session Sound(TempoMap tempo, MeterMap meters, SampleRate rate, long bar1)
    {
        var last = tempo.Points[^1].Quarter + 64;
        var limit = tempo.QuarterAt(MostSeconds);
        var end = last < limit ? last : limit;
        var part = new NotePart { Id = "p", Name = "p", StartQuarter = 0, LengthQuarters = end.Sign > 0 ? end : 1, Notes = [new Note(0, 10, 1, 60, 90)] };
        return new Session
        {
            Name = "t",
            Rate = rate,
            Bar1Sample = bar1,
            Tempo = tempo,
            Meters = meters,
            Tracks = [new Track { Id = "t", Name = "t", Kind = TrackKind.Notes, Parts = [part] }],
        };
    }

    [Fact]
    public void Corrected_keeps_every_beat_within_one_sample_at_every_usual_rate() =>
        Gen.Select(s_map, s_meters, Gen.Int[0, 3].Select(i => s_rates[i]), Gen.Long[0, 400_000]).Sample(
            (tempo, meters, hz, bar1) =>
            {
                var session = Sound(tempo, meters, new SampleRate(hz), bar1);
                var (drift, after) = Drifts(session);
                Assert.True(after.Samples <= 1, $"{after} with {string.Join("; ", tempo.Points)}");

                // Files that begin a little beside a beat cannot move that beat, and say so.
                Assert.True(drift.Why is not null || drift.Keeps(TempoForm.Corrected), drift.ToString());
            },
            iter: Cases.Of(10), print: t => string.Join("; ", t.Item1.Points));

    // Of everything, and of everything but the beat that the files begin on.
    private static (TempoDrift All, TempoDrift After) Drifts(Session session)
    {
        var grid = new MidiGrid(session, 0);
        var steps = TempoSteps.Make(session, grid, TempoForm.Corrected);
        return (TempoSteps.Drift(session, grid, steps), TempoSteps.Drift(session, grid, steps, [.. grid.CheckPoints.Where(p => p.Quarter != grid.First)]));
    }

    [Fact]
    public void What_a_reader_makes_of_the_events_lies_where_the_session_has_it() =>
        Gen.Select(s_map, s_meters, Gen.Long[0, 400_000]).Sample(
            (tempo, meters, bar1) =>
            {
                var session = Sound(tempo, meters, SampleRate.Hz48000, bar1);
                var file = MidiExport.Make(session, 0, new MidiChoices(), session.Tracks);

                var lead = new MidiGrid(session, 0).Lead;
                var worst = 0.0;
                var tempos = SmfContents.Of(file).Tempos;
                foreach (var beat in session.Meters.BeatsFrom(1 - lead).TakeWhile(b => b.Quarter <= session.Tracks[0].Parts[0].EndQuarter).Where((_, i) => i % 7 == 0))
                {
                    var tick = ((beat.Quarter + lead) * file.TicksPerQuarter).RoundToEven();
                    worst = Math.Max(worst, Math.Abs(Read(file, tempos, tick) - session.Clock.ExactSampleAt(beat.Quarter).ToDouble()));
                }

                Assert.InRange(worst, 0, 1.0001);
            },
            iter: Cases.Of(5));

    [Fact]
    public void Plain_has_an_event_for_each_tempo_and_its_rounding_adds_up()
    {
        var session = Sound(new TempoMap([new TempoPoint(0, 92), new TempoPoint(4000, 116)]), MeterMap.FourFour, SampleRate.Hz48000, 0);
        var plain = MidiExport.Drift(session, 0, TempoForm.Plain);
        var corrected = MidiExport.Drift(session, 0, TempoForm.Corrected);
        Assert.Equal(2, plain.Events);
        // 60 000 000 / 92 is 652 173.913; rounding loses 0.087 µs a quarter over 4 000 quarters, at 48 kHz 16.7 samples.
        Assert.InRange(plain.Samples, 16.6, 16.8);
        Assert.Equal(1001, plain.At.Bar);
        Assert.True(corrected.Samples <= 1 && corrected.Events < 60, corrected.ToString());
    }

    [Fact]
    public void A_ramp_becomes_sixteenths_or_whatever_keeps_it_within_a_sample()
    {
        var session = Sound(new TempoMap([new TempoPoint(0, 60, Ramp: true), new TempoPoint(16, 180)]), MeterMap.FourFour, SampleRate.Hz48000, 0);
        // From bar 1 on, the first quarter's four too.
        Assert.Equal(65, MidiExport.Drift(session, 0, TempoForm.Plain).Events);
        Assert.True(MidiExport.Drift(session, 0, TempoForm.Corrected).Samples <= 1);
    }

    [Theory]
    [InlineData(TempoForm.Corrected)]
    [InlineData(TempoForm.Within10)]
    [InlineData(TempoForm.Within50)]
    public void Each_note_controller_and_marker_of_a_ramp_lies_within_the_bound(TempoForm form) =>
        Gen.Select(Gen.Int[30, 120], Gen.Int[121, 400], Gen.Int[1, 24], Gen.Long[0, 7679].Array[1, 40], Gen.Long[0, 200_000]).Sample(
            (slow, fast, quarters, ticks, bar1) =>
            {
                var session = Steep(slow, fast, quarters, ticks) with { Bar1Sample = bar1 };
                var file = MidiExport.Make(session, 0, new MidiChoices(Tempo: form), session.Tracks);
                var lead = new MidiGrid(session, 0).Lead;
                var (part, tempos) = (session.Tracks[0].Parts[0], SmfContents.Of(file).Tempos);
                var worst = part.Notes.Select(n => n.Tick).Concat(part.Controls.Select(c => c.Tick))
                    .Max(t => Math.Abs(Read(file, tempos, t + (lead * 480)) - session.Clock.ExactSampleAt(new Rational(t, 480)).ToDouble()));
                Assert.InRange(worst, 0, TempoBound.Of(form)!.Value + 1e-6);
            },
            iter: Cases.Of(20));

    [Fact]
    public void A_wider_bound_costs_fewer_events_and_plain_strays_by_hundreds_of_samples_between_the_beats()
    {
        var session = Steep(30, 400, 4, [60, 180, 300, 420, 700, 1500]);
        var drifts = new[] { TempoForm.Corrected, TempoForm.Within10, TempoForm.Within50 }.Select(f => MidiExport.Drift(session, 0, f)).ToList();
        Assert.True(drifts[0].Events >= drifts[1].Events && drifts[1].Events > drifts[2].Events, string.Join("; ", drifts));
        Assert.All(drifts, d => Assert.Null(d.Why));
        Assert.InRange(MidiExport.Drift(session, 0, TempoForm.Plain).Samples, 300, 2000);
    }

    [Fact]
    public void What_lies_between_two_ticks_is_said_apart()
    {
        var session = Sound(TempoMap.Constant(60), MeterMap.FourFour, SampleRate.Hz48000, 0) with { Markers = [new Marker("m", "lamp", 48_030)] };
        var drift = MidiExport.Drift(session, 0, TempoForm.Corrected);
        Assert.InRange(drift.Samples, 0, 1);
        Assert.Equal(30, drift.Rounded, 6);
    }

    [Fact]
    public void Files_that_begin_beside_a_beat_say_what_keeps_it_from_its_sample()
    {
        var session = Sound(TempoMap.Constant(60), MeterMap.FourFour, SampleRate.Hz48000, 40);
        var drift = MidiExport.Drift(session, 0, TempoForm.Corrected);
        Assert.Equal(40, drift.Samples, 6);
        Assert.Contains("beside a beat", drift.Why, StringComparison.Ordinal);
        Assert.False(drift.Keeps(TempoForm.Corrected));
        Assert.True(Drifts(session).After.Samples <= 1);
    }

    // A ramp from bar 1 on, notes and a controller at ticks of their own.
    private static Session Steep(int slow, int fast, int quarters, IReadOnlyList<long> ticks)
    {
        var session = Sound(new TempoMap([new TempoPoint(0, slow, Ramp: true), new TempoPoint(quarters, fast)]), MeterMap.FourFour, SampleRate.Hz48000, 0);
        var part = new NotePart
        {
            Id = "p",
            Name = "p",
            StartQuarter = 0,
            LengthQuarters = 16,
            TicksPerQuarter = 480,
            Notes = ticks.Select(t => new Note(t, 1, 1, 60, 90)).ToValueArray(),
            Controls = [new NoteControl(ticks[0] / 2, NoteControlKind.Controller, 1, 7, 100)],
        };
        return session with { Tracks = [session.Tracks[0] with { Parts = [part] }] };
    }

    // Samples at a tick as any reader adds them up from the events.
    private static double Read(SmfFile file, ValueArray<(long Tick, int Microseconds)> tempos, long tick)
    {
        var micros = 0.0;
        for (var i = 0; i < tempos.Count && tempos[i].Tick < tick; i++)
        {
            micros += (double)((i + 1 < tempos.Count ? Math.Min(tick, tempos[i + 1].Tick) : tick) - tempos[i].Tick) * tempos[i].Microseconds / file.TicksPerQuarter;
        }

        return micros * 48_000 / 1e6;
    }

    [Fact]
    public void A_tempo_that_the_format_cannot_say_is_told_as_drift()
    {
        var session = Sound(TempoMap.Constant(2), MeterMap.FourFour, SampleRate.Hz48000, 0);
        var drift = MidiExport.Drift(session, 0, TempoForm.Corrected);
        Assert.True(drift.Samples > 1000);
        Assert.Contains("no quarter longer", drift.Why, StringComparison.Ordinal);
    }
}
