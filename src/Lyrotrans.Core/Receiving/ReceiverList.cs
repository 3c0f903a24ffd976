using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Receiving;

/// <summary>The receivers of a transfer, at least one, in the order of their making.</summary>
public sealed record ReceiverList
{
    /// <summary>So many go into one transfer.</summary>
    public const int Most = 32;

    private ReceiverList(ValueArray<Receiver> all, int next) => (All, Next) = (all, next);

    /// <summary>The receivers.</summary>
    public ValueArray<Receiver> All { get; private init; }

    /// <summary>The number that the next new receiver is called by; numbers of those that left are not given again.</summary>
    public int Next { get; private init; }

    /// <summary>Whether a transfer has one receiver only.</summary>
    public bool IsOne => All.Count == 1;

    /// <summary>The first receiver.</summary>
    public Receiver First => All[0];

    /// <summary>A receiver by its id; null where there is none of it.</summary>
    public Receiver? this[string id] => All.FirstOrDefault(r => r.Id == id);

    /// <summary>A transfer with one receiver.</summary>
    public static ReceiverList One(string name, Preparation preparation) => new([new Receiver("1", name, preparation)], 2);

    /// <param name="all">At least one, each of its own id.</param>
    /// <param name="next">Above the number of each.</param>
    /// <exception cref="ArgumentException">There is none, or two have one id.</exception>
    public static ReceiverList Of(IEnumerable<Receiver> all, int next)
    {
        var list = new ReceiverList(all.ToValueArray(), next);
        return list.All.Count > 0 && list.All.Select(r => r.Id).Distinct().Count() == list.All.Count ? list : throw new ArgumentException("A transfer has receivers, each with an id of its own.", nameof(all));
    }

    /// <summary>The list with another state of one of its receivers.</summary>
    public ReceiverList With(Receiver receiver) => this with { All = [.. All.Select(r => r.Id == receiver.Id ? receiver : r)] };

    /// <summary>The list with one more, that gets what another gets.</summary>
    public ReceiverList Copied(Receiver other, string name) => this with { All = [.. All, other with { Id = $"{Next}", Name = name }], Next = Next + 1 };

    /// <summary>The list without one.</summary>
    /// <exception cref="InvalidOperationException">It is the only one.</exception>
    public ReceiverList Without(string id) => IsOne ? throw new InvalidOperationException("The only receiver stays.") : this with { All = [.. All.Where(r => r.Id != id)] };

    /// <summary>The list for a session whose tracks changed.</summary>
    public ReceiverList For(Session session, Session? before = null) => this with { All = [.. All.Select(r => r with { Preparation = r.Preparation.For(session, before) })] };

    /// <summary>The list with one preparation for all: that of a session that had no tracks before.</summary>
    public ReceiverList Preparing(Preparation preparation) => this with { All = [.. All.Select(r => r with { Preparation = preparation })] };
}
