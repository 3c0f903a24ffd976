using Lyrotrans.Core.Errors;

namespace Lyrotrans.Testing;

/// <summary>
/// What damaged input must come to: it is refused with a code, a place and words, or what was made of it holds. In a whole run both must have happened: a reader that takes everything, or
/// nothing, does not look.
/// </summary>
internal sealed class Damage
{
    private int _read;
    private int _refused;

    /// <summary>Good bytes with some of them changed.</summary>
    public static byte[] Changed(byte[] good, IEnumerable<(int At, byte Value)> hits)
    {
        var bytes = (byte[])good.Clone();
        foreach (var (at, value) in hits)
        {
            bytes[at] = value;
        }

        return bytes;
    }

    /// <summary>Reads damaged input once; may be called from several threads.</summary>
    /// <param name="read">Makes something of it.</param>
    /// <param name="holds">What must be true of that, asserted.</param>
    public void Take<T>(Func<T> read, Action<T> holds)
    {
        T made;
        try
        {
            made = read();
        }
        catch (BadInputException problem)
        {
            Assert.Matches("^[a-z]+\\.[a-z0-9-]+$", problem.Code.Id);
            Assert.NotEmpty(problem.File);
            Assert.EndsWith(".", problem.Problem, StringComparison.Ordinal);
            Assert.EndsWith(".", problem.Remedy, StringComparison.Ordinal);
            Interlocked.Increment(ref _refused);
            return;
        }

        holds(made);
        Interlocked.Increment(ref _read);
    }

    /// <summary>Ends a run.</summary>
    public void BothHappened() => Assert.True(_read > 0 && _refused > 0, $"{_read} read, {_refused} refused");
}
