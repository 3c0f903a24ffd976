using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Clips;

/// <summary>A sound file that kept clips take their sound from, and what it is made of.</summary>
/// <param name="Media">As the receiver finds it: name, channels, length and encoding.</param>
/// <param name="Sound">A track of the session's own media whose dry sound it holds.</param>
/// <param name="Range">Which samples of that track.</param>
/// <param name="IsMissing">The session's media is not there: it is named and cannot be written.</param>
/// <param name="IsMade">Its sound is not the media's own any more: gain, fades or a ride are in it.</param>
public sealed record ClipMedia(Media Media, Track Sound, SampleRange Range, bool IsMissing, bool IsMade);
