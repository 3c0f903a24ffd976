using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Proof;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Proving;

/// <summary>Tempo and key that a sound file says of itself.</summary>
internal static class TagProof
{
    /// <summary>What was meant and found; null where nothing was to be said.</summary>
    /// <param name="plan">That the file is of.</param>
    /// <param name="file">A sound file, or a copy of one.</param>
    /// <param name="sound">As it was found.</param>
    /// <param name="subject">Of the row.</param>
    public static ProofRow? Row(DeliveryPlan plan, PlannedFile file, SoundFile sound, string subject)
    {
        if (SoundTags.Of(plan, file) is not { Any: true } tags)
        {
            return null;
        }

        // ID3 has whole numbers.
        var tempo = Path.GetExtension(file.Path) is ".flac" or ".ogg" ? tags.TempoText : tags.WholeTempo;
        var (meant, found) = ($"{tempo ?? "–"}, {tags.Key ?? "–"}", $"{sound.Tags.Tempo ?? "–"}, {sound.Tags.Key ?? "–"}");
        return new ProofRow(subject, "tempo and key", meant, found, meant == found ? "0" : "differs", meant == found);
    }
}
