using Lyrotrans.Core.Collections;

namespace Lyrotrans.Core.Carrying;

/// <summary>One thing of the session, and what becomes of it in each column of the carry plan.</summary>
public sealed record CarryObject(string Name, ValueArray<Fate> Fates);
