namespace Lyrotrans.Formats.Bento;

/// <summary>Identifiers that every container has.</summary>
/// <remarks>docs/formats/bento.md, section 3.</remarks>
internal static class BentoIds
{
    /// <summary>The container's own object.</summary>
    public const uint Container = 1;

    public const uint NextFree = 2;
    public const uint FirstData = 3;
    public const uint Contents = 4;
    public const uint Whole = 5;
    public const uint NumberType = 15;
    public const uint SpanType = 19;
    public const uint TextType = 0x15;
    public const uint ObjectName = 0x16;
    public const uint TypeName = 0x17;
    public const uint PropertyName = 0x18;

    /// <summary>Where names begin, and where data objects do: what lies between is names of properties and types.</summary>
    public const uint FirstName = 0x20;
    public const uint FirstObject = 0x10000;

    /// <summary>Magic bytes, flags, a buffer size or the letters of the byte order, version, offset and size of the contents.</summary>
    public const int LabelBytes = 24;

    public const int EntryBytes = 24;

    public static ReadOnlySpan<byte> Magic => [0xA4, 0x43, 0x4D, 0xA5, 0x48, 0x64, 0x72, 0xD7];
}
