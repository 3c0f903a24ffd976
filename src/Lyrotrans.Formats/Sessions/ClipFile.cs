using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Sessions;

/// <summary>What goes into a file of clips.</summary>
/// <param name="Session">As the file says it: audio tracks with one lane, whose clips overlap in crossfades only; other tracks where the format has a place for them.</param>
/// <param name="Essence">For each medium of the session.</param>
/// <param name="Choices">How it is written.</param>
/// <param name="Comments">Words about the composition, by name.</param>
public sealed record ClipFile(Session Session, IReadOnlyDictionary<string, MediaEssence> Essence, ClipChoices Choices, IReadOnlyDictionary<string, string> Comments)
{
    /// <summary>Edit units a second on sound tracks; null for samples.</summary>
    public Rational? EditRate => Choices.FrameUnits ? Session.FrameRate.PerSecond : null;
}
