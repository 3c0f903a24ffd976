using Lyrotrans.Core.Delivering;
using Lyrotrans.Storage.Store;

namespace Lyrotrans.Web.Desks;

/// <summary>What a build writes, and the media of its room.</summary>
public sealed record PlannedBuild(DeliveryPlan Plan, RoomMedia Media);
