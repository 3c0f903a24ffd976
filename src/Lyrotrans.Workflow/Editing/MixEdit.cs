using Lyrotrans.Core.Routing;
using System.Globalization;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Workflow.Intake;

namespace Lyrotrans.Workflow.Editing;

/// <summary>What goes along besides the tracks, and how sound files are finished, as it was chosen.</summary>
public sealed record MixEdit
{
    private const int LongestTailSeconds = 600;

    /// <summary>Whether stems go along.</summary>
    public bool Stems { get; init; }

    /// <summary>Where stems and guide mix are taken.</summary>
    public StemMaster Master { get; init; }

    /// <summary>Whether a guide mix goes along.</summary>
    public bool Guide { get; init; }

    /// <summary>Of which files a copy to listen to goes along.</summary>
    public ListeningCopies Copies { get; init; }

    /// <summary>The format of copies to listen to.</summary>
    public ListeningForm CopyForm { get; init; }

    /// <summary>What is done with sound above full scale.</summary>
    public OversPolicy Overs { get; init; }

    /// <summary><c>flat</c>, <c>shaped</c> or <c>flat 24</c>, where bits are lost to 24 too.</summary>
    public string Dither { get; init; } = string.Empty;

    /// <summary>The most that a tail is printed, in seconds.</summary>
    public string LongestTail { get; init; } = string.Empty;

    /// <summary>A property of the session, not of the preparation.</summary>
    public PanLaw PanLaw { get; init; }

    /// <summary>The preparation with these choices; <see cref="PanLaw"/> is decided at Intake.</summary>
    public Edit<Preparation> Apply(Session session, Preparation preparation)
    {
        if (!Rational.TryParse(LongestTail.Trim().TrimEnd('s').Trim(), out var tail) || tail.Sign < 0 || tail > LongestTailSeconds)
        {
            return new Refused($"\"{LongestTail}\" is no longest tail; it is 0 to {LongestTailSeconds} seconds.");
        }

        if (!Enum.IsDefined(PanLaw) || !Enum.IsDefined(Master) || !Enum.IsDefined(Copies) || !Enum.IsDefined(CopyForm) || !Enum.IsDefined(Overs) || Dither is not ("flat" or "shaped" or "flat 24"))
        {
            return new Refused("There is no such choice.");
        }

        if (Copies != ListeningCopies.None && CopyForm == ListeningForm.Mp3 && !Audio.Files.CodedWriter.Holds(Audio.Files.CodedForm.Mp3, session.Rate))
        {
            return new Refused($"MP3 has no rate of {session.Rate}. Take Ogg for the copies.");
        }

        var after = preparation with
        {
            Mix = new MixChoices(Stems, Master, Guide, Copies, CopyForm),
            Overs = Overs,
            Dither = Dither == "shaped" ? DitherForm.Shaped : DitherForm.Flat,
            DitherTo24 = Dither == "flat 24",
            LongestTail = session.Rate.SamplesIn(tail).RoundToEven(),
        };
        return Made(preparation, after);
    }

    /// <summary>Takes stems and guide mix before the master's effects.</summary>
    public static Edit<Preparation> BeforeMaster(Preparation before) => Made(before, before with { Mix = before.Mix with { Master = StemMaster.Before } });

    /// <summary>Lowers all files by what is above full scale.</summary>
    public static Edit<Preparation> LowerOvers(Preparation before) => Made(before, before with { Overs = OversPolicy.Lower });

    /// <summary>The pan law of the session.</summary>
    public Edit<IntakeState> Law(IntakeState intake) => new(intake with { PanLaw = PanLaw }, $"pan law {PanLaw.Words()}", null);

    private static Edit<Preparation> Made(Preparation before, Preparation after) => new(after, Words(before, after), null);

    private static string Words(Preparation before, Preparation after) => string.Join(", ", new[]
    {
        before.Mix.Stems != after.Mix.Stems ? after.Mix.Stems ? "stems go" : "no stems" : null,
        Choices.Masters.Changed(before.Mix.Master, after.Mix.Master),
        before.Mix.Guide != after.Mix.Guide ? after.Mix.Guide ? "guide mix goes" : "no guide mix" : null,
        Choices.Copies.Changed(before.Mix.Copies, after.Mix.Copies),
        Choices.CopyForms.Changed(before.Mix.CopyForm, after.Mix.CopyForm),
        Choices.Overs.Changed(before.Overs, after.Overs),
        before.Dither != after.Dither || before.DitherTo24 != after.DitherTo24 ? $"dither {(after.Dither == DitherForm.Shaped ? "shaped" : after.DitherTo24 ? "to 24 bit too" : "flat")}" : null,
        before.LongestTail != after.LongestTail ? string.Create(CultureInfo.InvariantCulture, $"longest tail {after.LongestTail} samples") : null,
    }.OfType<string>());
}
