using Lyrotrans.Core.Receiving;

namespace Lyrotrans.Workflow.Editing;

/// <summary>Changes of who receives a transfer.</summary>
/// <param name="receivers">As they stand.</param>
public sealed class ReceiverEdits(ReceiverList receivers)
{
    /// <summary>The longest name, in characters.</summary>
    public const int MostLetters = 120;

    /// <summary>One more receiver, that gets what another gets.</summary>
    public Edit<ReceiverList> Add(Receiver from, string? name)
    {
        var called = (name ?? string.Empty).Trim();
        return receivers.All.Count == ReceiverList.Most ? new Refused($"A transfer has at most {ReceiverList.Most} receivers. Begin another one for more.")
            : Problem(called, null) is { } problem ? new Refused(problem)
            : new Edit<ReceiverList>(receivers.Copied(from, called), $"one more receiver: {called}, like {from.Called}", null);
    }

    /// <summary>Another name for a receiver.</summary>
    public Edit<ReceiverList> Rename(Receiver receiver, string? name)
    {
        var called = (name ?? string.Empty).Trim();
        return Problem(called, receiver.Id) is { } problem ? new Refused(problem)
            : new Edit<ReceiverList>(receivers.With(receiver with { Name = called }), $"{receiver.Called} is called {called}", null);
    }

    /// <summary>A receiver leaves; packages that were built for it stay.</summary>
    public Edit<ReceiverList> Remove(Receiver receiver) => receivers.IsOne
        ? new Refused("A session goes to somebody: the only receiver stays. Give it another name.")
        : new Edit<ReceiverList>(receivers.Without(receiver.Id), $"{receiver.Called} receives nothing any more", null);

    private string? Problem(string name, string? own) =>
        name.Length == 0 ? "A receiver needs a name, to be told from the others."
        : name.Length > MostLetters ? $"This name has {name.Length} characters; at most {MostLetters} are possible."
        : receivers.All.Any(r => r.Id != own && string.Equals(r.Name, name, StringComparison.OrdinalIgnoreCase)) ? $"There is a receiver called {name} already."
        : null;
}
