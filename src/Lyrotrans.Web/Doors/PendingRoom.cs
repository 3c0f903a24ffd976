namespace Lyrotrans.Web.Doors;

/// <summary>A room that somebody wants to open, until they have followed the letter to their address. Lies in the letter's link and nowhere else.</summary>
/// <param name="Room">What the room is called.</param>
/// <param name="Name">Who opens it.</param>
/// <param name="Email">Where the letter goes.</param>
/// <param name="PasswordHash">As accounts keep it.</param>
public sealed record PendingRoom(string Room, string Name, string Email, string PasswordHash);
