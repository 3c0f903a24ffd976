using System.Globalization;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Web.Pages.Transfers;

/// <summary>What goes along besides the tracks, and how sound files are finished, as it was chosen.</summary>
public sealed record MixForm
{
    private const int LongestTailSeconds = 600;

    public bool Stems { get; init; }

    public StemMaster Master { get; init; }

    public bool Guide { get; init; }

    public ListeningCopies Copies { get; init; }

    public ListeningForm CopyForm { get; init; }

    public OversPolicy Overs { get; init; }

    /// <summary><c>flat</c>, <c>shaped</c> or <c>flat 24</c>, where bits are lost to 24 too.</summary>
    public string Dither { get; init; } = string.Empty;

    public string LongestTail { get; init; } = string.Empty;

    /// <summary>A property of the session, not of the preparation.</summary>
    public PanLaw PanLaw { get; init; }

    /// <summary>The preparation with these choices; or what is wrong with them.</summary>
    public (Preparation? Changed, string? Problem) Apply(Session session, Preparation preparation)
    {
        if (!Rational.TryParse(LongestTail.Trim().TrimEnd('s').Trim(), out var tail) || tail.Sign < 0 || tail > LongestTailSeconds)
        {
            return (null, $"\"{LongestTail}\" is no longest tail; it is 0 to {LongestTailSeconds} seconds.");
        }

        if (!Enum.IsDefined(PanLaw) || !Enum.IsDefined(Master) || !Enum.IsDefined(Copies) || !Enum.IsDefined(CopyForm) || !Enum.IsDefined(Overs) || Dither is not ("flat" or "shaped" or "flat 24"))
        {
            return (null, "There is no such choice.");
        }

        if (Copies != ListeningCopies.None && CopyForm == ListeningForm.Mp3 && !Audio.Files.CodedWriter.Holds(Audio.Files.CodedForm.Mp3, session.Rate))
        {
            return (null, $"MP3 has no rate of {session.Rate}. Take Ogg for the copies.");
        }

        return (preparation with
        {
            Mix = new MixChoices(Stems, Master, Guide, Copies, CopyForm),
            Overs = Overs,
            Dither = Dither == "shaped" ? DitherForm.Shaped : DitherForm.Flat,
            DitherTo24 = Dither == "flat 24",
            LongestTail = session.Rate.SamplesIn(tail).RoundToEven(),
        }, null);
    }

    public static string Words(Preparation before, Preparation after) => string.Join(", ", new[]
    {
        before.Mix.Stems != after.Mix.Stems ? after.Mix.Stems ? "stems go" : "no stems" : null,
        before.Mix.Master != after.Mix.Master ? after.Mix.Master == StemMaster.Before ? "mix before the master's effects" : "mix through the master" : null,
        before.Mix.Guide != after.Mix.Guide ? after.Mix.Guide ? "guide mix goes" : "no guide mix" : null,
        before.Mix.Copies != after.Mix.Copies ? after.Mix.Copies switch { ListeningCopies.None => "no copies to listen to", ListeningCopies.All => "a copy of every sound file to listen to", _ => "a copy of the guide mix to listen to" } : null,
        before.Mix.CopyForm != after.Mix.CopyForm ? $"copies as {after.Mix.CopyForm.ToString().ToUpperInvariant()}" : null,
        before.Overs != after.Overs ? after.Overs == OversPolicy.Lower ? "overs: all files lowered" : "overs: held at full scale" : null,
        before.Dither != after.Dither || before.DitherTo24 != after.DitherTo24 ? $"dither {(after.Dither == DitherForm.Shaped ? "shaped" : after.DitherTo24 ? "to 24 bit too" : "flat")}" : null,
        before.LongestTail != after.LongestTail ? string.Create(CultureInfo.InvariantCulture, $"longest tail {after.LongestTail} samples") : null,
    }.OfType<string>());
}
