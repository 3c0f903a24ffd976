using System.Text;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Formats.Binary;
using Lyrotrans.Formats.MarkerList;
using Lyrotrans.Formats.Midi;

namespace Lyrotrans.Formats.Tests;

/// <summary>Documents of very many small things are refused before they cost memory many times their bytes.</summary>
public class CountTests
{
    [Fact]
    public void Json_of_more_values_than_any_session_is_refused_and_texts_that_look_like_it_are_not()
    {
        var many = Encoding.UTF8.GetBytes("[1" + string.Concat(Enumerable.Repeat(",1", JsonInput.MostValues)) + "]");
        Assert.Equal(FileCodes.TooLarge, Assert.Throws<BadInputException>(() => JsonInput.Parse(many, "many.json")).Code);
        var text = Encoding.UTF8.GetBytes("[\"" + new string(',', JsonInput.MostValues + 10) + "\"]");
        using var one = JsonInput.Parse(text, "one.json");
        Assert.Equal(1, one.RootElement.GetArrayLength());
    }

    [Fact]
    public void Midi_of_more_events_than_any_music_is_refused()
    {
        // Notes in running status: three bytes each.
        var events = new byte[3 * (SmfReader.MostEvents + 10)];
        events[1] = 0x90;
        for (var i = 4; i + 2 < events.Length; i += 3)
        {
            (events[i], events[i + 1], events[i + 2]) = (0, 60, 1);
        }

        events[2] = 60;
        events[3] = 1;
        byte[] file = [.. "MThd"u8, 0, 0, 0, 6, 0, 0, 0, 1, 1, 0xE0, .. "MTrk"u8, (byte)(events.Length >> 24), (byte)(events.Length >> 16), (byte)(events.Length >> 8), (byte)events.Length, .. events];
        Assert.Equal(FileCodes.TooLarge, Assert.Throws<BadInputException>(() => SmfReader.Read(new MemoryStream(file), "many.mid")).Code);
    }

    [Fact]
    public void A_list_of_more_rows_than_any_list_of_markers_is_refused()
    {
        var list = Encoding.UTF8.GetBytes("text,start samples\n" + string.Concat(Enumerable.Repeat("a,1\n", 200_001)));
        Assert.Equal(FileCodes.TooLarge, Assert.Throws<BadInputException>(() => MarkerListReader.Read(new MemoryStream(list), "many.csv")).Code);
    }
}
