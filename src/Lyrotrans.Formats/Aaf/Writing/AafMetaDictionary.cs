using System.Buffers.Binary;
using System.Globalization;
using System.Text;

namespace Lyrotrans.Formats.Aaf.Writing;

/// <summary>The meta dictionary: the classes and types of the published model, described in the file that uses them.</summary>
/// <remarks>docs/formats/aaf.md, section 2.</remarks>
internal static class AafMetaDictionary
{
    private const ushort FirstOwnPid = 0x8000;

    public static AafNode Make()
    {
        var own = FirstOwnPid;
        var classes = AafModel.Classes.Select(c => (c.Id.ToByteArray(), Class(c, ref own))).ToList();
        var types = AafModel.Types.Select(t => (t.Id.ToByteArray(), Type(t))).ToList();
        return new AafNode("MetaDictionary")
            .OwnSet(AafPid.ClassDefinitions, AafPid.MetaIdentification, classes)
            .OwnSet(AafPid.TypeDefinitions, AafPid.MetaIdentification, types);
    }

    private static AafNode Class(AafClass type, ref ushort own)
    {
        var properties = new List<(byte[], AafNode)>();
        foreach (var property in type.Properties)
        {
            properties.Add((property.Id.ToByteArray(), Described("PropertyDefinition", property.Name, property.Id)
                .Id(AafPid.PropertyType, AafModel.Type(property.Type).Id)
                .Flag(AafPid.PropertyIsOptional, property.IsOptional)
                .Word(AafPid.PropertyLocalId, property.Pid ?? own++)
                .Flag(AafPid.PropertyIsUnique, property.IsUnique)));
        }

        // A class without a parent is its own.
        var node = Described("ClassDefinition", type.Name, type.Id)
            .Weak(AafPid.ParentClass, AafPath.Classes, type.Parent is { } parent ? AafModel.Class(parent).Id : type.Id);
        return (properties.Count > 0 ? node.OwnSet(AafPid.ClassProperties, AafPid.MetaIdentification, properties) : node)
            .Flag(AafPid.ClassIsConcrete, type.IsConcrete);
    }

    private static AafNode Type(AafType type) => type.Kind switch
    {
        "integer" => Described("TypeDefinitionInteger", type).Data(0x000F, [(byte)type.Size]).Flag(0x0010, type.IsSigned),
        "character" => Described("TypeDefinitionCharacter", type),
        "enumeration" => Described("TypeDefinitionEnumeration", type).Weak(0x0014, AafPath.Types, Element(type)).Data(0x0015, Names(type.Values)).Data(0x0016, Numbers(type)),
        "extendible enumeration" => Described("TypeDefinitionExtendibleEnumeration", type).Data(0x001F, Names(type.Values)).Ids(0x0020, type.Values.Select(v => new Guid(v.Value))),
        "fixed array" => Described("TypeDefinitionFixedArray", type).Weak(0x0017, AafPath.Types, Element(type)).Whole(0x0018, type.Size),
        "variable array" => Described("TypeDefinitionVariableArray", type).Weak(0x0019, AafPath.Types, Element(type)),
        "set" => Described("TypeDefinitionSet", type).Weak(0x001A, AafPath.Types, Element(type)),
        "string" => Described("TypeDefinitionString", type).Weak(0x001B, AafPath.Types, Element(type)),
        "record" => Described("TypeDefinitionRecord", type)
            .WeakVector(0x001C, AafPath.Types, [.. type.Members.Select(m => AafModel.Type(m.Type).Id)]).Data(0x001D, Names(type.Members)),
        "renamed" => Described("TypeDefinitionRename", type).Weak(0x001E, AafPath.Types, Element(type)),
        "strong reference" => Described("TypeDefinitionStrongObjectReference", type).Weak(0x0011, AafPath.Classes, AafModel.Class(type.Of).Id),
        "weak reference" => Described("TypeDefinitionWeakObjectReference", type).Weak(0x0012, AafPath.Classes, AafModel.Class(type.Of).Id).Ids(0x0013, type.TargetPath),
        "stream" => Described("TypeDefinitionStream", type),
        "indirect" => Described("TypeDefinitionIndirect", type),
        _ => Described("TypeDefinitionOpaque", type),
    };

    private static Guid Element(AafType type) => AafModel.Type(type.Of).Id;

    private static AafNode Described(string node, AafType type) => Described(node, type.Name, type.Id);

    private static AafNode Described(string node, string name, Guid id) => new AafNode(node).Text(AafPid.MetaName, name).Id(AafPid.MetaIdentification, id);

    private static byte[] Names(IEnumerable<(string Name, string)> values) => Encoding.Unicode.GetBytes(string.Concat(values.Select(v => v.Name + '\0')));

    private static byte[] Numbers(AafType type)
    {
        var bytes = new byte[type.Values.Count * 8];
        for (var i = 0; i < type.Values.Count; i++)
        {
            BinaryPrimitives.WriteInt64LittleEndian(bytes.AsSpan(i * 8), long.Parse(type.Values[i].Value, CultureInfo.InvariantCulture));
        }

        return bytes;
    }
}
