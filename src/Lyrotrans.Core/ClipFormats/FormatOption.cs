using Lyrotrans.Core.Collections;

namespace Lyrotrans.Core.ClipFormats;

/// <summary>A choice that only one format has.</summary>
/// <param name="Id">In documents, unlike that of any other option of any format.</param>
/// <param name="Name">For people, short.</param>
/// <param name="Values">What can be chosen; the first is usual.</param>
/// <param name="FormerId">What documents of before call it, where they held it among the choices of all formats; null where it is newer.</param>
public sealed record FormatOption(string Id, string Name, ValueArray<FormatOptionValue> Values, string? FormerId = null)
{
    /// <summary>The value that it has where nothing was chosen.</summary>
    public FormatOptionValue Usual => Values[0];

    /// <summary>The value of an identifier; null where there is none such.</summary>
    public FormatOptionValue? Find(string id) => Values.FirstOrDefault(v => v.Id == id);
}
