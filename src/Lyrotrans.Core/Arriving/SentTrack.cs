namespace Lyrotrans.Core.Arriving;

/// <summary>A track as it was sent.</summary>
/// <param name="Id">In the session that was sent.</param>
/// <param name="Of">The track that it was made of; null for a mix, a stem or the click, which its receiver may leave out.</param>
/// <param name="IsFile">Whether it is a file of sound from the start, and not clips.</param>
public sealed record SentTrack(string Id, string? Of, bool IsFile);
