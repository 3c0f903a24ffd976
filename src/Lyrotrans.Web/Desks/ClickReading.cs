using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Web.Desks;

/// <summary>What was read off a click.</summary>
/// <param name="Click">Its track.</param>
/// <param name="Note">What each click was said to stand for; none was found out.</param>
/// <param name="CountIn">The count-in that was said, in bars; none was found out.</param>
/// <param name="Map">Null where it is no click.</param>
public sealed record ClickReading(Track Click, ClickNote? Note, int? CountIn, ClickMap? Map);
