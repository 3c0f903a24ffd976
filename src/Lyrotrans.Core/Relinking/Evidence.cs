using Lyrotrans.Core.Collections;

namespace Lyrotrans.Core.Relinking;

/// <summary>What speaks for a file being a medium, and what against.</summary>
/// <param name="Candidate">Its identifier.</param>
/// <param name="Name">Of the file.</param>
/// <param name="Weight">Higher is likelier.</param>
public sealed record Evidence(string Candidate, string Name, int Weight, ValueArray<string> For, ValueArray<string> Against)
{
    /// <summary>Beyond doubt: bound without asking.</summary>
    public bool IsCertain => Weight >= Relink.Certain;
}
