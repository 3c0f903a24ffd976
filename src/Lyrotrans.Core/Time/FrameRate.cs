namespace Lyrotrans.Core.Time;

/// <summary>
/// A timecode rate: how many frame numbers make a second of the label, whether the frames run 1000/1001 slower than
/// that (SMPTE ST 12-1), and whether labels are dropped to keep up with the clock.
/// </summary>
public readonly record struct FrameRate
{
    private readonly int _nominal;

    private FrameRate(string name, int nominal, bool pulledDown, bool drop)
    {
        Name = name;
        _nominal = nominal;
        PulledDown = pulledDown;
        Drop = drop;
    }

    /// <summary>24 frames a second pulled down: 24000/1001.</summary>
    public static FrameRate Fps23976 { get; } = new("23.976", 24, true, false);

    /// <summary>24 frames a second.</summary>
    public static FrameRate Fps24 { get; } = new("24", 24, false, false);

    /// <summary>The default value.</summary>
    public static FrameRate Fps25 => default;

    /// <summary>30 frames a second pulled down: 30000/1001; every frame number is used.</summary>
    public static FrameRate Fps2997 { get; } = new("29.97", 30, true, false);

    /// <summary>30000/1001 frames a second; two frame numbers are dropped each minute but every tenth.</summary>
    public static FrameRate Fps2997Drop { get; } = new("29.97 drop", 30, true, true);

    /// <summary>30 frames a second.</summary>
    public static FrameRate Fps30 { get; } = new("30", 30, false, false);

    /// <summary>50 frames a second.</summary>
    public static FrameRate Fps50 { get; } = new("50", 50, false, false);

    /// <summary>60 frames a second pulled down: 60000/1001; every frame number is used.</summary>
    public static FrameRate Fps5994 { get; } = new("59.94", 60, true, false);

    /// <summary>60000/1001 frames a second; four frame numbers are dropped each minute but every tenth.</summary>
    public static FrameRate Fps5994Drop { get; } = new("59.94 drop", 60, true, true);

    /// <summary>60 frames a second.</summary>
    public static FrameRate Fps60 { get; } = new("60", 60, false, false);

    /// <summary>Every rate that a session may have, slowest first.</summary>
    public static IReadOnlyList<FrameRate> All { get; } =
        [Fps23976, Fps24, Fps25, Fps2997, Fps2997Drop, Fps30, Fps50, Fps5994, Fps5994Drop, Fps60];

    /// <summary>The name by which a document refers to it, such as <c>29.97 drop</c>.</summary>
    public string Name => field ?? "25";

    /// <summary>Frame labels in one second of the label: 24, 25, 30, 50 or 60.</summary>
    public int Nominal => _nominal == 0 ? 25 : _nominal;

    /// <summary>Whether it runs 1000/1001 as fast as its whole number says.</summary>
    public bool PulledDown { get; }

    /// <summary>Whether frame numbers are dropped to keep up with the clock.</summary>
    public bool Drop { get; }

    /// <summary>Frames in one second of time, exact.</summary>
    public Rational PerSecond => PulledDown ? new Rational(Nominal * 1000, 1001) : Nominal;

    /// <summary>Labels left out at the start of each minute that is not a multiple of ten.</summary>
    public int DroppedPerMinute => Drop ? Nominal / 15 : 0;

    /// <summary>Frames in 24 hours of labels.</summary>
    public long FramesPerDay => (Nominal * 86_400L) - (DroppedPerMinute * 9L * 144);

    /// <summary>The rate of a name such as <c>29.97 drop</c>; false where there is none such.</summary>
    public static bool TryFromName(string? name, out FrameRate rate)
    {
        foreach (var known in All)
        {
            if (known.Name == name)
            {
                rate = known;
                return true;
            }
        }

        rate = default;
        return false;
    }

    public override string ToString() => Name;
}
