namespace Lyrotrans.Core.Preparing;

/// <summary>How tempo is written where a format holds only whole microseconds a quarter, and steps.</summary>
public enum TempoForm
{
    /// <summary>As many tempo events as it takes for everything to lie within one sample.</summary>
    Corrected,

    /// <summary>One event for each tempo, and sixteenths through ramps; rounding adds up.</summary>
    Plain,

    /// <summary>As many tempo events as it takes for everything to lie within ten samples.</summary>
    Within10,

    /// <summary>As many tempo events as it takes for everything to lie within fifty samples.</summary>
    Within50,
}
