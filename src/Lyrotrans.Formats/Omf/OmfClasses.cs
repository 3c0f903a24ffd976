namespace Lyrotrans.Formats.Omf;

/// <summary>The classes of both versions and their parents. Those that no file needs are not here; a file's own dictionary says more.</summary>
/// <remarks>docs/formats/omf.md, section 2.</remarks>
internal static class OmfClasses
{
    private static readonly Dictionary<string, string> s_second = Parents(
        "CPNT OOBJ", "SEGM CPNT", "SCLP SEGM", "FILL SEGM", "SEQU SEGM", "TCCP SEGM", "ECCP SEGM", "EFFE SEGM", "NEST SEGM", "SLCT SEGM", "SREF SEGM", "MGRP SEGM", "ERAT SEGM", "CVAL SEGM", "VVAL SEGM", "TRAN CPNT",
        "MOBJ OOBJ", "CMOB MOBJ", "MMOB MOBJ", "SMOB MOBJ", "MSLT OOBJ", "TRKD OOBJ", "ESLT OOBJ", "CTLP OOBJ", "DDEF OOBJ", "EDEF OOBJ", "MDES OOBJ", "MDFL MDES", "AIFD MDFL", "WAVD MDFL", "SD2D MDFL", "MDTP MDES", "MDFM MDES",
        "MDAT OOBJ", "AIFC MDAT", "WAVE MDAT", "LOCR OOBJ", "TXTL LOCR", "UNXL LOCR", "DOSL LOCR", "WINL LOCR", "MACL LOCR", "NETL LOCR", "ATTR OOBJ", "ATTB OOBJ", "CLSD OOBJ", "HEAD OOBJ", "IDNT OOBJ");

    private static readonly Dictionary<string, string> s_first = Parents(
        "CPNT OOBJ", "CLIP CPNT", "SCLP CLIP", "FILL CLIP", "TCCP CLIP", "ECCP CLIP", "ATCP CLIP", "SEQU CPNT", "TRKG CPNT", "TRAK OOBJ", "MOBJ TRKG", "TRAN TRKG", "SLCT TRKG", "TRKR CPNT", "WARP TRKG", "SPED WARP", "PVOL TRKG", "REPT TRKG", "MASK TRKG",
        "MDES OOBJ", "MDFL MDES", "AIFD MDFL", "WAVD MDFL", "PCMA MDFL", "MDAU MDFL", "MDTP MDES", "MDFM MDES", "MDAT OOBJ", "AIFC MDAT", "WAVE MDAT", "LOCR OOBJ", "TXTL LOCR", "UNXL LOCR", "DOSL LOCR", "WINL LOCR", "MACL LOCR", "NETL LOCR",
        "ATTR OOBJ", "ATTB OOBJ", "CLSD OOBJ", "HEAD OOBJ");

    public static string? ParentOf(string type, int version) => (version == 1 ? s_first : s_second).GetValueOrDefault(type);

    private static Dictionary<string, string> Parents(params string[] pairs) => pairs.Select(p => p.Split(' ')).ToDictionary(p => p[0], p => p[1]);
}
