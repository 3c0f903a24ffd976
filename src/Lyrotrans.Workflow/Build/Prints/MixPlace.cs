using Lyrotrans.Audio.Mix;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Workflow.Build.Prints;

/// <summary>The place of a signal path that a file's sound is taken from.</summary>
/// <param name="Session">Whose path.</param>
/// <param name="Target">Whose sound is taken.</param>
/// <param name="Point">Where.</param>
/// <param name="Sounding">Ids of the tracks that play.</param>
internal sealed record MixPlace(Session Session, Track Target, MixPoint Point, IReadOnlySet<string> Sounding);
