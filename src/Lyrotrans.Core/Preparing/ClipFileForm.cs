namespace Lyrotrans.Core.Preparing;

/// <summary>The format of a file of clips.</summary>
public enum ClipFileForm
{
    Aaf,

    /// <summary>Version 2.1, for readers that know nothing newer.</summary>
    Omf,

    /// <summary>Open JSON of picture editors and pipelines; its media always lie beside it.</summary>
    Otio,
}
