using Lyrotrans.Core.Arriving;

namespace Lyrotrans.Web.Links;

/// <summary>A report as it is drawn: the line of all clips, and what differs.</summary>
/// <param name="Report">What was compared.</param>
/// <param name="IsFirst">Whether it is the one that is looked at: it has its line, and stands open.</param>
public sealed record ArrivalView(ArrivalReport Report, bool IsFirst);
