using Lyrotrans.Core.Relinking;

namespace Lyrotrans.Formats.Aaf.Writing;

/// <summary>Identifiers made of what they stand for, so that the same session gives the same file.</summary>
internal static class AafIds
{
    public static byte[] None { get; } = new byte[32];

    public static byte[] Mob(string role, string identity) => Convert.FromHexString(MobId.Of(role, identity));

    public static Guid Auid(string role, string identity) => new(MobId.Material(role, identity));

    /// <summary>The identifier that a medium came with, where it is one of a mob.</summary>
    public static byte[]? Known(string id) => MobId.Is(id) ? Convert.FromHexString(id) : null;
}
