using Lyrotrans.Core.Findings;

namespace Lyrotrans.Audio.Peaks;

/// <summary>Codes of files of peaks.</summary>
public static class PeakCodes
{
    /// <summary>The file is no file of peaks of this version; it is made again when the media is measured.</summary>
    public static readonly FindingCode NotPeaks = new("peaks.not-one");
}
