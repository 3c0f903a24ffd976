namespace Lyrotrans.Core.ClipFormats;

/// <summary>What places for sound have in common.</summary>
public static class ClipMediaForms
{
    /// <summary>Whether the sound lies in files beside the file of clips.</summary>
    public static bool IsBeside(this ClipMediaForm form) => form is ClipMediaForm.BesideWave or ClipMediaForm.BesideAiff;

    /// <summary>Whether the sound is AIFF.</summary>
    public static bool IsAiff(this ClipMediaForm form) => form is ClipMediaForm.InsideAiff or ClipMediaForm.BesideAiff;

    /// <summary>Whether each medium has a header that can say its time stamp, and float samples.</summary>
    public static bool IsWave(this ClipMediaForm form) => form is ClipMediaForm.InsideWave or ClipMediaForm.BesideWave;
}
