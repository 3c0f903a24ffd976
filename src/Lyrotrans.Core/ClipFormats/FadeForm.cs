namespace Lyrotrans.Core.ClipFormats;

/// <summary>How fades go into a file of clips.</summary>
public enum FadeForm
{
    /// <summary>As transitions.</summary>
    Transitions,

    /// <summary>From and to silence as properties of the clip; crossfades stay transitions.</summary>
    Properties,

    /// <summary>Part of the media; clips that cross become one.</summary>
    Rendered,
}
