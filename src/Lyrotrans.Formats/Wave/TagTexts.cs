using Lyrotrans.Core.Collections;

namespace Lyrotrans.Formats.Wave;

/// <summary>Tempo and key as texts of a WAVE or AIFF file.</summary>
/// <remarks>docs/formats/sound.md, section 9.</remarks>
public static class TagTexts
{
    /// <summary>What the tempo is called.</summary>
    public const string Tempo = Id3Tag.Tempo;

    /// <summary>What the key is called.</summary>
    public const string Key = Id3Tag.Key;

    /// <summary>The texts to write.</summary>
    /// <param name="tempo">Whole quarters a minute; null says none.</param>
    /// <param name="key">Such as <c>Dm</c>; null says none.</param>
    public static ValueArray<KeyValuePair<string, string>> Of(string? tempo, string? key) =>
        [.. new (string Id, string? Text)[] { (Id3Tag.Tempo, tempo), (Id3Tag.Key, key) }.Where(t => t.Text is not null).Select(t => KeyValuePair.Create(t.Id, t.Text!))];

    /// <summary>Tempo and key that a header says, as it says them; null where it does not.</summary>
    public static (string? Tempo, string? Key) In(SoundHeader header)
    {
        string? Find(string id) => header.Info.Where(i => i.Key == id).Select(i => i.Value).FirstOrDefault();
        return (Find(Id3Tag.Tempo), Find(Id3Tag.Key));
    }
}
