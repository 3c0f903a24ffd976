using System.Text.Json;
using System.Text.Json.Nodes;
using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Formats.Preparations;
using Lyrotrans.Formats.Registry;

namespace Lyrotrans.Formats.Tests;

/// <summary>The schema of preparations, made from the options that documents are written from.</summary>
public class PreparationSchemaTests
{
    [Fact]
    public void The_published_schema_is_that_of_the_options() =>
        Assert.True(File.ReadAllText(Repository.Path("docs", "preparation.schema.json")) == PreparationSchema.Text(), "Make it anew: ./lyro schema preparation > docs/preparation.schema.json");

    [Fact]
    public void The_schema_of_receiver_sheets_in_the_repository_is_the_one_that_the_options_make() =>
        Assert.True(File.ReadAllText(Repository.Path("docs", "receiver-sheet.schema.json")) == PreparationSchema.OfSheet(), "Make it anew: ./lyro schema sheet > docs/receiver-sheet.schema.json");

    [Fact]
    public void Every_property_that_is_written_stands_in_the_schema_and_every_other_may_be_left_out()
    {
        Assert.True(AccentPattern.TryParse("2+2+3", out var pattern));
        var preparation = new Preparation
        {
            ChosenEnd = 9,
            EndTail = 9,
            Rate = 96_000,
            Tags = true,
            Oversampling = 4,
            Kinds = Choices.FileKinds.Aggregate(new KindChoices(), (kinds, k) => kinds.With(k.Value, new KindChoice
            {
                Rate = 44_100,
                Encoding = Core.Sound.SampleEncoding.Integer16,
                Dither = DitherForm.Shaped,
                Container = SoundContainer.Flac,
                Also = SoundContainer.Wav,
                Range = FileRange.Chosen,
                Start = 5,
                End = 9,
                Channels = DeliveredChannels.Separate,
            })),
            Version = "v2",
            Date = new DateOnly(2026, 3, 21),
            Cleaning = new Core.Naming.NameCleaning(true, true, true, true, true, true),
            LongestTail = 9,
            Picture = new PictureChoices(PictureExtent.FromFiles, PictureForm.Vc3),
            Markers = MarkersForm.ListOnly,
            Clips = new ClipChoices(SessionFormats.Usual) { PerGroup = true, NamedAfterTracks = true, Options = SessionFormats.OfClips.SelectMany(f => f.Clips.Options).Aggregate(default(Core.ClipFormats.FormatChoices), (chosen, o) => chosen.With(o, o.Values[1].Id)) },
            Mix = new MixChoices(Sounding: MixSounding.OnlyMarked, Finished: true) { DryStems = true, CopyRate = 128 },
            Click = new ClickChoices(Accents: [new MeterAccents(7, 8, pattern)], Voice: ClickVoice.Wood, Parts: 3, TempoInName: true) { FileName = "27_Click" },
            Accepted = ["missing swell.wav"],
            Answers = [new FlagAnswer("clipped", "2 files clip", true, "It is meant.", ["0123456789abcdef"])],
            ReplyTo = new string('a', 64),
            Sheet = new SheetTerms("Picture editing") { Notes = "n", LargestFile = 1 << 30, LongestName = 31, Rate = 48_000, FrameRate = "25", Picture = "25 frames", MutedClips = true, Formats = "AAF", Start = "01:00:00:00" },
            Tracks = [new TrackChoice("t", Treatment.PrintDry, DeliveredChannels.Mono, "Name", "Group", true, true, "take 2", true) { Beneath = [new BeneathChoice(Treatment.KeepClips, "Beneath")], Without = ["limiter"], Oversampled = [("limiter", 4)] }],
        };
        using var written = JsonDocument.Parse(PreparationDocument.Write(preparation));
        Compare(written.RootElement, JsonNode.Parse(PreparationSchema.Text())!, "$");
    }

    private static void Compare(JsonElement written, JsonNode schema, string path)
    {
        if (written.ValueKind == JsonValueKind.Array)
        {
            Compare(Assert.Single(written.EnumerateArray()), schema["items"]!, path + "[0]");
        }
        else if (written.ValueKind == JsonValueKind.Object)
        {
            var properties = schema["properties"]!.AsObject();
            Assert.Equal(properties.Select(p => $"{path}.{p.Key}").Order(), written.EnumerateObject().Select(p => $"{path}.{p.Name}").Order());
            Assert.All(written.EnumerateObject(), p => Compare(p.Value, properties[p.Name]!, $"{path}.{p.Name}"));
        }
    }
}
