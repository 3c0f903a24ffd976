using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;

namespace Lyrotrans.Core.Tests;

public class AtOnceTests
{
    [Fact]
    public void Results_lie_in_the_order_of_the_things()
    {
        var things = Enumerable.Range(0, 200).ToList();
        Assert.Equal(things.Select(t => t * t), AtOnce.Select(things, t => t * t, CancellationToken.None));
        Assert.Empty(AtOnce.Select(Array.Empty<int>(), t => t, CancellationToken.None));
    }

    [Fact]
    public void A_failure_is_thrown_as_it_was()
    {
        var problem = Assert.Throws<BadInputException>(() => AtOnce.Each(8, i => throw new BadInputException(FileCodes.CutShort, "a.wav", i, "It is damaged.", "Ask for it again."), CancellationToken.None));
        Assert.Equal("a.wav", problem.File);
    }

    [Fact]
    public void Nothing_is_begun_after_a_stop_and_no_more_at_once_than_allowed()
    {
        using var stop = new CancellationTokenSource();
        var (begun, now, most) = (0, 0, 0);
        Assert.ThrowsAny<OperationCanceledException>(() => AtOnce.Each(
            1000,
            _ =>
            {
                most = Math.Max(most, Interlocked.Increment(ref now));
                if (Interlocked.Increment(ref begun) == 3)
                {
                    stop.Cancel();
                }

                Interlocked.Decrement(ref now);
            },
            stop.Token,
            threads: 1));
        Assert.Equal((3, 1), (begun, most));
    }
}
