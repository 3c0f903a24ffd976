using System.CommandLine;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sound;
using Lyrotrans.Formats.Preparations;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Workflow.Intake;

namespace Lyrotrans.Cli;

/// <summary>The options that say how a session is prepared: a file, and what is to be otherwise.</summary>
internal sealed class PreparationChoices
{
    private static readonly Dictionary<string, SoundContainer> s_formats = Choices.Containers.ToDictionary(c => c.Id, c => c.Value);

    // As people say it: 16, 24, 32 or float.
    private static readonly Dictionary<string, SampleEncoding> s_depths = Choices.Encodings.ToDictionary(c => c.Value.IsFloat() ? "float" : $"{c.Value.Bits()}", c => c.Value);

    // A chosen start needs a place, which a preparation says.
    private static readonly Dictionary<string, RangeStart> s_starts = Choices.Starts.Where(c => c.Value != RangeStart.Chosen).ToDictionary(c => c.Id.Replace(' ', '-'), c => c.Value);

    private readonly Option<string?> _file;
    private readonly Option<string?> _format = Among("--format", s_formats);
    private readonly Option<string?> _depth = Among("--depth", s_depths);
    private readonly Option<string?> _from = Among("--from", s_starts);

    /// <param name="without">What is so where no file is given, in words.</param>
    public PreparationChoices(string without) => _file = new Option<string?>("--preparation") { Description = $"A preparation as JSON; {without}" };

    /// <summary>Puts the options onto a command.</summary>
    public void AddTo(Command command)
    {
        foreach (var option in new[] { _file, _format, _depth, _from })
        {
            command.Options.Add(option);
        }
    }

    /// <summary>Whether any was given.</summary>
    public bool AreSaid(ParseResult parsed) => new[] { _file, _format, _depth, _from }.Any(o => parsed.GetValue(o) is not null);

    /// <summary>What they say for a session; everything that sounds goes where they say nothing.</summary>
    public Preparation Of(ParseResult parsed, LoadedSession loaded)
    {
        var preparation = parsed.GetValue(_file) is { } file ? PreparationDocument.Read(File.ReadAllBytes(file), file) : Preparation.Default(loaded.Session, SessionFormats.Usual);
        preparation = preparation.Date is null ? preparation.Dated(DateOnly.FromDateTime(Stamps.Now().UtcDateTime)) : preparation;
        return preparation with
        {
            Container = parsed.GetValue(_format) is { } format ? s_formats[format] : preparation.Container,
            Encoding = parsed.GetValue(_depth) is { } depth ? s_depths[depth] : preparation.Encoding,
            From = parsed.GetValue(_from) is { } from ? s_starts[from] : preparation.From,
        };
    }

    private static Option<string?> Among<T>(string name, Dictionary<string, T> values)
    {
        var option = new Option<string?>(name) { Description = $"{Phrases.List([.. values.Keys], "or")}." };
        option.AcceptOnlyFromAmong([.. values.Keys]);
        return option;
    }
}
