namespace Lyrotrans.Core.Preparing;

/// <summary>How far a written tempo map may stray from the session's.</summary>
public static class TempoBound
{
    /// <summary>In samples at the session's rate; null where rounding adds up without a bound.</summary>
    /// <param name="form">How tempo is written.</param>
    public static int? Of(TempoForm form) => form switch
    {
        TempoForm.Corrected => 1,
        TempoForm.Within10 => 10,
        TempoForm.Within50 => 50,
        _ => null,
    };
}
