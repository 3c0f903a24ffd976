using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Storing;
using Lyrotrans.Core.Time;
using Lyrotrans.Files;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Workflow.Placing;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Tests;

public sealed class SoundPlacesTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-places").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    // Silence that takes no room on the disk.
    private (IStoredFile File, string Name) Wave(string name, long hz, long frames)
    {
        var layout = new PcmLayout(SampleEncoding.Unsigned8, false, 1, SampleRate.FromHz(hz), 0, frames);
        var path = Path.Combine(_folder, name);
        using var file = File.Create(path);
        file.Write(WaveWriter.Head(layout));
        file.SetLength(file.Position + layout.DataBytes + (layout.DataBytes & 1));
        return (new DiskFile(path), name);
    }

    private static IReadOnlyList<FoundPlace> Find((IStoredFile File, string Name) reference, params IReadOnlyList<(IStoredFile File, string Name)> sounds) =>
        SoundPlaces.Find(reference, sounds, _ => { }, CancellationToken.None);

    [Fact]
    public void What_cannot_be_looked_for_is_said_and_the_rest_is_looked_for()
    {
        var text = Path.Combine(_folder, "text.wav");
        File.WriteAllText(text, "no sound");
        var found = Find(Wave("mix.wav", 48_000, 96_000), Wave("slow.wav", 100, 5000), (new DiskFile(text), "text.wav"), Wave("day.wav", 8000, 8000L * 3600 * 7), Wave("silent.wav", 44_100, 44_100), Wave("empty.wav", 48_000, 0));
        Assert.Equal([SoundFileCodes.RateTooFar, FileCodes.UnknownContent, FileCodes.TooLarge, null, null], found.Select(f => f.Problem?.Code));
        Assert.All(found, f => Assert.Null(f.Place));
        Assert.Equal(["slow.wav", "text.wav", "day.wav", "silent.wav", "empty.wav"], found.Select(f => f.Name));
    }

    [Fact]
    public void A_reference_that_cannot_be_looked_through_is_refused_in_words()
    {
        var sound = Wave("a.wav", 8000, 8000);
        Assert.Contains($"{Digits.Grouped(8000)} Hz that sound is looked through at", Assert.Throws<BadInputException>(() => Find(Wave("slow.wav", 100, 5000), sound)).Message, StringComparison.Ordinal);
        Assert.Contains("longer than 6 hours", Assert.Throws<BadInputException>(() => Find(Wave("day.wav", 8000, 8000L * 3600 * 7), sound)).Message, StringComparison.Ordinal);
    }
}
