using System.Text.RegularExpressions;

namespace Lyrotrans.Formats.Aaf.Writing;

/// <summary>The definitions that our files refer to.</summary>
/// <remarks>docs/formats/aaf.md, section 2.</remarks>
internal static class AafDictionary
{
    private static readonly string[] s_parameters = ["Level", "Amplitude", "Pan", "OutgoingLevel", "IncomingLevel"];
    private static readonly string[] s_data = ["Sound", "Picture", "Timecode", "DescriptiveMetadata"];
    private static readonly string[] s_interpolations = ["Constant", "Linear", "Log", "Power", "BSpline"];

    public static Guid Sound { get; } = AafModel.Definition("DataDef_Sound");

    public static Guid Picture { get; } = AafModel.Definition("DataDef_Picture");

    public static Guid Timecode { get; } = AafModel.Definition("DataDef_Timecode");

    public static Guid Descriptive { get; } = AafModel.Definition("DataDef_DescriptiveMetadata");

    public static Guid Gain { get; } = AafModel.Definition("OperationDef_MonoAudioGain");

    public static Guid StereoGain { get; } = AafModel.Definition("OperationDef_StereoAudioGain");

    public static Guid Pan { get; } = AafModel.Definition("OperationDef_MonoAudioPan");

    public static Guid Dissolve { get; } = AafModel.Definition("OperationDef_MonoAudioDissolve");

    public static Guid StereoDissolve { get; } = AafModel.Definition("OperationDef_StereoAudioDissolve");

    public static Guid TwoLevelDissolve { get; } = AafModel.Definition("OperationDef_TwoParameterMonoAudioDissolve");

    public static Guid Level { get; } = AafModel.Definition("ParameterDef_Level");

    public static Guid Outgoing { get; } = AafModel.Definition("ParameterDef_OutgoingLevel");

    public static Guid Incoming { get; } = AafModel.Definition("ParameterDef_IncomingLevel");

    public static Guid Amplitude { get; } = AafModel.Definition("ParameterDef_Amplitude");

    public static Guid PanPlace { get; } = AafModel.Definition("ParameterDef_Pan");

    public static Guid Inside { get; } = AafModel.Definition("ContainerDef_AAF");

    public static Guid Beside { get; } = AafModel.Definition("ContainerDef_External");

    public static AafNode Make() => new AafNode("Dictionary")
        .OwnSet(AafPid.DictionaryOperations, AafPid.DefinitionId,
        [
            Operation("OperationDef_MonoAudioGain", 1, Amplitude), Operation("OperationDef_StereoAudioGain", 1, Amplitude), Operation("OperationDef_MonoAudioPan", 1, PanPlace),
            Operation("OperationDef_MonoAudioDissolve", 2, Level), Operation("OperationDef_StereoAudioDissolve", 2, Level),
            Operation("OperationDef_TwoParameterMonoAudioDissolve", 2, Outgoing, Incoming),
        ])
        .OwnSet(AafPid.DictionaryParameters, AafPid.DefinitionId,
            [.. s_parameters.Select(n => Definition("ParameterDefinition", $"ParameterDef_{n}", p => p.Weak(AafPid.ParameterType, AafPath.Types, AafModel.Type("Rational").Id)))])
        .OwnSet(AafPid.DictionaryData, AafPid.DefinitionId,
            [.. s_data.Select(n => Definition("DataDefinition", $"DataDef_{n}"))])
        .OwnSet(AafPid.DictionaryContainers, AafPid.DefinitionId,
            [Definition("ContainerDefinition", "ContainerDef_AAF", c => c.Flag(AafPid.ContainerIsIdentified, true)), Definition("ContainerDefinition", "ContainerDef_External", c => c.Flag(AafPid.ContainerIsIdentified, false))])
        .OwnSet(AafPid.DictionaryInterpolations, AafPid.DefinitionId,
            [.. s_interpolations.Select(n => Definition("InterpolationDefinition", $"InterpolationDef_{n}"))]);

    private static (byte[], AafNode) Operation(string name, int inputs, params Guid[] parameters) => Definition("OperationDefinition", name, o => o
        .Weak(AafPid.OperationData, AafPath.Data, Sound)
        .Flag(AafPid.OperationIsTimeWarp, false)
        .Id(AafPid.OperationCategory, new Guid(AafModel.Type("OperationCategoryType").Values[0].Value))
        .Whole(AafPid.OperationInputs, inputs)
        .WeakSet(AafPid.OperationParameters, AafPath.Parameters, parameters));

    // Its name in words: MonoAudioGain is mono audio gain.
    private static string Described(string name) => Regex.Replace(name[(name.IndexOf('_') + 1)..], "(?<=[^A-Z])[A-Z]", word => $" {word.Value.ToLowerInvariant()}");

    private static (byte[], AafNode) Definition(string type, string name, Action<AafNode>? more = null)
    {
        var id = AafModel.Definition(name);
        var node = new AafNode(type).Id(AafPid.DefinitionId, id).Text(AafPid.DefinitionName, name).Text(AafPid.DefinitionDescription, Described(name));
        more?.Invoke(node);
        return (id.ToByteArray(), node);
    }
}
