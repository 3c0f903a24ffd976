using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Routing;

/// <summary>One path from a track to another: its output, or a send.</summary>
/// <param name="Send">None for the output.</param>
public sealed record Feed(Track From, Track To, Send? Send);
