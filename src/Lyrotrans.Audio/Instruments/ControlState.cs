namespace Lyrotrans.Audio.Instruments;

/// <summary>How the controls of all channels stand: the last of each.</summary>
internal sealed class ControlState
{
    private readonly Dictionary<(NoteEventKind Kind, int Channel, int Number), NoteEvent> _last = [];

    /// <summary>In the order in which an instrument has to be told: a bank before its program.</summary>
    public IEnumerable<NoteEvent> Standing => _last.Values.OrderBy(e => e.Kind);

    public void Take(NoteEvent e)
    {
        if (e.Kind is not (NoteEventKind.On or NoteEventKind.Off))
        {
            _last[(e.Kind, e.Channel, e.Kind is NoteEventKind.Controller or NoteEventKind.KeyPressure ? e.First : 0)] = e;
        }
    }
}
