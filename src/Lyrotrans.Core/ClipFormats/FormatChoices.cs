using Lyrotrans.Core.Collections;

namespace Lyrotrans.Core.ClipFormats;

/// <summary>
/// What was chosen of the options of formats, also of others than the one in force, so that changing the format and back loses nothing. Only what is not usual is kept, in the order of
/// the identifiers, so that two that mean the same are equal. The default is that nothing was chosen.
/// </summary>
public readonly record struct FormatChoices
{
    /// <summary>Option and value, by their identifiers.</summary>
    public ValueArray<(string Option, string Value)> Chosen { get; private init; }

    /// <summary>The identifier of an option's value.</summary>
    public string this[FormatOption option] => Chosen.FirstOrDefault(c => c.Option == option.Id).Value ?? option.Usual.Id;

    /// <exception cref="ArgumentException">The option has no such value.</exception>
    public FormatChoices With(FormatOption option, string value)
    {
        if (option.Find(value) is null)
        {
            throw new ArgumentException($"\"{option.Name}\" has no value \"{value}\".");
        }

        var others = Chosen.Where(c => c.Option != option.Id);
        return new FormatChoices
        {
            Chosen = (value == option.Usual.Id ? others : others.Append((Option: option.Id, Value: value))).OrderBy(c => c.Option, StringComparer.Ordinal).ToValueArray(),
        };
    }
}
