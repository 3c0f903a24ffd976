namespace Lyrotrans.Testing;

/// <summary>How many random cases a test takes.</summary>
internal static class Cases
{
    private static readonly int s_more = int.TryParse(Environment.GetEnvironmentVariable("LYRO_MORE"), out var more) && more > 0 ? more : 1;

    /// <summary>The usual number, as every run of all tests takes it; where LYRO_MORE is set, so many times as many, with other dice.</summary>
    public static int Of(int usual) => usual * s_more;
}
