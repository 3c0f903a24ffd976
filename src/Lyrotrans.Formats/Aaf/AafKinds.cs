namespace Lyrotrans.Formats.Aaf;

/// <summary>What definitions mean, by their identifiers, the legacy ones too, or by their names where a file has others.</summary>
/// <remarks>docs/formats/aaf.md, section 2.</remarks>
internal sealed class AafKinds(AafFile file)
{
    private static readonly HashSet<Guid> s_sound = Of("DataDef_Sound", "DataDef_LegacySound");
    private static readonly HashSet<Guid> s_picture = Of("DataDef_Picture", "DataDef_LegacyPicture", "DataDef_PictureWithMatte");
    private static readonly HashSet<Guid> s_gain = Of("OperationDef_MonoAudioGain", "OperationDef_StereoAudioGain");
    private static readonly HashSet<Guid> s_pan = Of("OperationDef_MonoAudioPan");

    public bool IsSound(AafObject segment) => Is(segment, s_sound, "sound");

    public bool IsPicture(AafObject segment) => Is(segment, s_picture, "picture");

    public static bool IsGain(AafObject group) => group.Weak(AafPid.Operation) is { } id && s_gain.Contains(id);

    public static bool IsPan(AafObject group) => group.Weak(AafPid.Operation) is { } id && s_pan.Contains(id);

    private bool Is(AafObject segment, HashSet<Guid> ids, string word) => segment.Weak(AafPid.DataDefinition) is { } id
        && (ids.Contains(id) || file.NameOf(id).Contains(word, StringComparison.OrdinalIgnoreCase));

    private static HashSet<Guid> Of(params string[] names) => [.. names.Select(AafModel.Definition)];
}
