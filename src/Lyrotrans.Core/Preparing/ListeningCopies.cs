namespace Lyrotrans.Core.Preparing;

/// <summary>Of which sound files a lossy copy goes along, to listen to.</summary>
public enum ListeningCopies
{
    None,

    /// <summary>Of the guide mix.</summary>
    GuideMix,

    /// <summary>Of every sound file.</summary>
    All,
}
