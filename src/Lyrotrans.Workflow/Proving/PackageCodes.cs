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

    /// <summary>Clips go and have no sound: their medium is missing.</summary>
    public static readonly FindingCode WithoutSound = new("package.without-sound");

    /// <summary>A medium that goes says another thing in its header than the session does.</summary>
    public static readonly FindingCode Contradicted = new("package.contradicted");

    /// <summary>Something is printed without an effect that cannot sound here.</summary>
    public static readonly FindingCode WithoutEffect = new("package.without-effect");

    /// <summary>Something is printed with a stand-in for an instrument that cannot sound here.</summary>
    public static readonly FindingCode WithoutInstrument = new("package.without-instrument");

    /// <summary>What was given is no key that packages can be signed with or known by.</summary>
    public static readonly FindingCode NoKey = new("package.no-key");

    /// <summary>The session has no audio track that could be in the file.</summary>
    public static readonly FindingCode NoAudio = new("package.no-audio");
}
