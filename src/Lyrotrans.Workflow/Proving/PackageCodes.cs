using Lyrotrans.Core.Findings;

namespace Lyrotrans.Workflow.Proving;

/// <summary>Codes of packages and their files when they are proved.</summary>
public static class PackageCodes
{
    /// <summary>The zip has no manifest, so it is no package of this program.</summary>
    public static readonly FindingCode NoManifest = new("package.no-manifest");

    /// <summary>The package is no whole zip file.</summary>
    public static readonly FindingCode NotWhole = new("package.not-whole");

    /// <summary>A file of the package is missing.</summary>
    public static readonly FindingCode EntryMissing = new("package.entry-missing");

    /// <summary>The session has no audio track that could be in the file.</summary>
    public static readonly FindingCode NoAudio = new("package.no-audio");
}
