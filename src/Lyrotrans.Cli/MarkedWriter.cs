using System.Text;
using Lyrotrans.Core.Naming;

namespace Lyrotrans.Cli;

/// <summary>Writes on with hidden marks shown: no name in a file steers the terminal.</summary>
/// <param name="next">Where it goes.</param>
internal sealed class MarkedWriter(TextWriter next) : TextWriter
{
    public override Encoding Encoding => next.Encoding;

    public override void Write(char value) => next.Write(!char.IsSurrogate(value) && HiddenMarks.Is(new Rune(value)) ? HiddenMarks.Shown(new Rune(value)) : value.ToString());

    public override void Write(string? value) => next.Write(value is null ? null : HiddenMarks.Shown(value));

    public override void WriteLine(string? value) => next.WriteLine(value is null ? null : HiddenMarks.Shown(value));

    public override void Flush() => next.Flush();
}
