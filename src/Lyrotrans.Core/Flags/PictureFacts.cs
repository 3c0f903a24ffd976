using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Flags;

/// <summary>What is known of the reference picture's file.</summary>
/// <param name="Name">Of the file.</param>
/// <param name="FramesPerSecond">Its own; null where it does not say.</param>
/// <param name="Channels">Of sound inside it; 0 for none.</param>
public sealed record PictureFacts(string Name, Rational? FramesPerSecond, int Channels);
