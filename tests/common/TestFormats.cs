using Lyrotrans.Core.ClipFormats;

namespace Lyrotrans.Testing;

/// <summary>A format of clips for what asks none of its abilities.</summary>
internal static class TestFormats
{
    public static ClipFormat Any { get; } = new()
    {
        Id = "any",
        Extension = ".any",
        Media = [ClipMediaForm.InsideWave],
        Fades = [FadeForm.Transitions],
        Transitions = TransitionShapes.ByNameOrPoints,
        MediaId = identity => identity,
        IsMediaId = _ => true,
        FileBytes = 0,
        ClipBytes = 0,
    };
}
