using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Rates;

/// <summary>What is known of a sound file's rate.</summary>
/// <param name="Id">Of the file.</param>
/// <param name="Header">The rate that its header says.</param>
/// <param name="Frames">Length in sample frames.</param>
/// <param name="Words">Rates that other parts of it say.</param>
/// <param name="MediaId">What clips of the session call it.</param>
/// <param name="Described">What a document that describes the session says of it; null where none does.</param>
public sealed record SoundRate(string Id, string Name, SampleRate Header, long Frames, ValueArray<RateWord> Words, string MediaId, Media? Described = null);
