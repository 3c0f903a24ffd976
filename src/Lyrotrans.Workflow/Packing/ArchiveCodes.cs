using Lyrotrans.Core.Findings;

namespace Lyrotrans.Workflow.Packing;

/// <summary>Codes of archives.</summary>
public static class ArchiveCodes
{
    /// <summary>The archive or an entry of it is damaged, or holds another amount than it says.</summary>
    public static readonly FindingCode Damaged = new("archive.damaged");

    /// <summary>The archive has more entries than are taken.</summary>
    public static readonly FindingCode TooMany = new("archive.too-many");

    /// <summary>The name of an entry would leave the folder that it is unpacked in, or cannot be used.</summary>
    public static readonly FindingCode RefusedName = new("archive.refused-name");

    /// <summary>An entry is a link.</summary>
    public static readonly FindingCode Link = new("archive.link");

    /// <summary>Two entries have one name.</summary>
    public static readonly FindingCode SameName = new("archive.same-name");

    /// <summary>Two entries share bytes of the archive.</summary>
    public static readonly FindingCode Overlap = new("archive.overlap");

    /// <summary>There is not enough room to unpack the archive.</summary>
    public static readonly FindingCode NoRoom = new("archive.no-room");

    /// <summary>The list of a transfer's archive cannot be read, or says what cannot be.</summary>
    public static readonly FindingCode BadList = new("archive.bad-list");

    /// <summary>A file of a transfer's archive is not there, or not the one that its list says.</summary>
    public static readonly FindingCode NotWhole = new("archive.not-whole");

    /// <summary>A transfer's archive is opened in a transfer that has a session already.</summary>
    public static readonly FindingCode NotEmpty = new("archive.not-empty");

    /// <summary>An archive inside an archive is not opened.</summary>
    public static readonly FindingCode Nested = new("archive.nested");
}
