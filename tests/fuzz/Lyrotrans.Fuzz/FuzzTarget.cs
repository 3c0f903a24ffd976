namespace Lyrotrans.Fuzz;

/// <summary>A reader that is fed changed files.</summary>
/// <param name="Name">On the command line.</param>
/// <param name="Seeds">Good files, from the folder of fixtures.</param>
/// <param name="Read">Reads one; throws what is no clear refusal where what must hold does not.</param>
internal sealed record FuzzTarget(string Name, Func<string, IEnumerable<byte[]>> Seeds, Action<byte[]> Read);
