using System.Buffers.Binary;

namespace Lyrotrans.Formats.Aaf.Writing;

/// <summary>The sets that weak references point into; a reference's tag is the place in the root's table of paths.</summary>
internal enum AafPath
{
    Classes,
    Types,
    Data,
    Operations,
    Parameters,
    Containers,
    Interpolations,
}

/// <summary>The root's table of paths: property identifiers from the root to each set, each path ended by a zero.</summary>
internal static class AafPaths
{
    private static readonly ushort[][] s_paths =
    [
        [AafPid.RootMetaDictionary, AafPid.ClassDefinitions],
        [AafPid.RootMetaDictionary, AafPid.TypeDefinitions],
        [AafPid.RootHeader, AafPid.HeaderDictionary, AafPid.DictionaryData],
        [AafPid.RootHeader, AafPid.HeaderDictionary, AafPid.DictionaryOperations],
        [AafPid.RootHeader, AafPid.HeaderDictionary, AafPid.DictionaryParameters],
        [AafPid.RootHeader, AafPid.HeaderDictionary, AafPid.DictionaryContainers],
        [AafPid.RootHeader, AafPid.HeaderDictionary, AafPid.DictionaryInterpolations],
    ];

    /// <summary>The property that the elements of a set are known by.</summary>
    public static ushort KeyOf(AafPath path) => path <= AafPath.Types ? AafPid.MetaIdentification : AafPid.DefinitionId;

    /// <summary>The stream <c>referenced properties</c>.</summary>
    public static byte[] Table()
    {
        var words = s_paths.SelectMany(p => p.Append((ushort)0)).ToArray();
        var bytes = new byte[7 + (words.Length * 2)];
        bytes[0] = 0x4C;
        BinaryPrimitives.WriteUInt16LittleEndian(bytes.AsSpan(1), (ushort)s_paths.Length);
        BinaryPrimitives.WriteUInt32LittleEndian(bytes.AsSpan(3), (uint)words.Length);
        for (var i = 0; i < words.Length; i++)
        {
            BinaryPrimitives.WriteUInt16LittleEndian(bytes.AsSpan(7 + (i * 2)), words[i]);
        }

        return bytes;
    }
}
