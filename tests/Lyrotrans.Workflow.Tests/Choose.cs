using Lyrotrans.Core.Preparing;
using Lyrotrans.Formats.Aaf.Registration;
using Lyrotrans.Formats.Omf.Registration;
using Lyrotrans.Formats.Otio.Registration;

namespace Lyrotrans.Workflow.Tests;

/// <summary>Choices for a format of clips, to be changed from there.</summary>
internal static class Choose
{
    public static ClipChoices Aaf { get; } = new(AafSessionFormat.Holds);

    public static ClipChoices Omf { get; } = new(OmfSessionFormat.Holds);

    public static ClipChoices Otio { get; } = new(OtioSessionFormat.Holds);

    /// <summary>With an option of the format, by the identifiers of option and value.</summary>
    public static ClipChoices With(this ClipChoices choices, string option, string value) =>
        choices with { Options = choices.Options.With(choices.Format.Options.Single(o => o.Id == option), value) };
}
