namespace Lyrotrans.Web.Listening;

/// <summary>How many listen at a time: each stream renders a mix while it is sent, and rooms share the machine.</summary>
public sealed class ListeningSeats
{
    /// <summary>For one person: what plays, and what the browser has not let go of yet, on two machines.</summary>
    public const int MostOfOne = 4;

    private readonly Lock _lock = new();
    private readonly Dictionary<Guid, int> _taken = [];

    /// <summary>For everybody.</summary>
    public static int Most => Math.Max(8, 4 * Environment.ProcessorCount);

    /// <summary>Takes a seat until what is given is disposed; null where none is free.</summary>
    public IDisposable? TryTake(Guid person)
    {
        lock (_lock)
        {
            var mine = _taken.GetValueOrDefault(person);
            if (mine >= MostOfOne || _taken.Values.Sum() >= Most)
            {
                return null;
            }

            _taken[person] = mine + 1;
            return new Seat(this, person);
        }
    }

    private void Leave(Guid person)
    {
        lock (_lock)
        {
            if (--_taken[person] == 0)
            {
                _taken.Remove(person);
            }
        }
    }

    private sealed class Seat(ListeningSeats seats, Guid person) : IDisposable
    {
        private bool _left;

        public void Dispose()
        {
            if (!_left)
            {
                _left = true;
                seats.Leave(person);
            }
        }
    }
}
