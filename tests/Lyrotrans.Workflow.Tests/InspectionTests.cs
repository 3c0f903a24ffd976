using System.IO.Compression;
using System.Text.Json.Nodes;
using Lyrotrans.Core.Errors;
using Lyrotrans.Workflow.Inspect;

namespace Lyrotrans.Workflow.Tests;

public class InspectionTests
{
    [Theory]
    [InlineData("suite-type-0")]
    [InlineData("suite-type-1")]
    [InlineData("suite-96")]
    [InlineData("suite-15360")]
    public void Midi_is_told_with_the_keys_of_the_fixtures(string name)
    {
        var expected = JsonNode.Parse(File.ReadAllText(Fixtures.Path($"midi/{name}.json")))!.AsObject();
        var found = JsonNode.Parse(Inspection.Of(Fixtures.Path($"midi/{name}.mid")).ToJsonString())!.AsObject();
        foreach (var (key, value) in expected.Where(p => p.Key != "tracks"))
        {
            Assert.True(JsonNode.DeepEquals(value, found[key]), $"{key}: {value?.ToJsonString()} / {found[key]?.ToJsonString()}");
        }

        Assert.Equal(expected["tracks"]!.AsArray().Count, found["tracks"]!.AsArray().Count);
    }

    [Fact]
    public void Sound_files_are_told_with_the_hash_of_their_samples()
    {
        var found = Inspection.Of(Fixtures.Path("aaf/horn-close.wav"));
        Assert.Equal("ad84cb466211ec1cfcbf61beea2bdcd388285ff0ab458921436c89e806f96594", (string?)found["sampleDataSha256"]);
        Assert.Equal((48_000, 24, 240_000), ((double)found["rate"]!, (int)found["bits"]!, (long)found["length"]!));
    }

    [Fact]
    public void A_marker_list_and_an_archive_are_told_and_a_hostile_archive_is_refused_by_name()
    {
        var folder = Directory.CreateTempSubdirectory("lyrotrans-inspect-").FullName;
        try
        {
            var list = Path.Combine(folder, "lamps.csv");
            File.WriteAllText(list, "text;start bars;end seconds\nLamps down;5.1.0;2\n\nLamps up;9.1.0;\n");
            var markers = Inspection.Of(list)["markers"]!.AsArray();
            Assert.Equal("""[{"line":2,"text":"Lamps down","start":{"bars":"5.1.0"},"end":{"seconds":"2"}},{"line":4,"text":"Lamps up","start":{"bars":"9.1.0"},"end":null}]""", markers.ToJsonString());
            string Zip(string name, params string[] entries)
            {
                var path = Path.Combine(folder, name);
                using var zip = ZipFile.Open(path, ZipArchiveMode.Create);
                foreach (var entry in entries)
                {
                    zip.CreateEntryFromFile(list, entry);
                }

                return path;
            }

            Assert.Equal($$"""[{"path":"a/lamps.csv","bytes":{{new FileInfo(list).Length}}},{"path":"b.csv","bytes":{{new FileInfo(list).Length}}}]""", Inspection.Of(Zip("two.zip", "a/lamps.csv", "b.csv"))["files"]!.ToJsonString());
            Assert.Contains("../out.csv", Assert.Throws<BadInputException>(() => Inspection.Of(Zip("out.zip", "../out.csv"))).Message, StringComparison.Ordinal);
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    [Fact]
    public void What_cannot_be_read_is_said()
    {
        Assert.Contains("not a sound file", Assert.Throws<BadInputException>(() => Inspection.Of(Fixtures.Path("README.md"))).Message);
        Assert.Throws<BadInputException>(() => Inspection.Of("/nowhere/x.mid"));
    }

    [Fact]
    public void Findings_are_said_with_code_place_and_text()
    {
        var found = Assert.Single(Inspection.Of(Fixtures.Path("midi/wrong-track-count.mid"))["findings"]!.AsArray())!;
        Assert.Equal(["code", "place", "text"], found.AsObject().Select(p => p.Key));
        Assert.Equal("midi.track-count", (string?)found["code"]);
        Assert.Equal("The header says 5 tracks, the file has 1.", (string?)found["text"]);
    }
}
