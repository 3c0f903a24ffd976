using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Preparing;

namespace Lyrotrans.Demo;

/// <summary>The suite for a room that wants files only: every kind of print is there at least once.</summary>
public static class AllPrinted
{
    /// <param name="preparation">Of the suite.</param>
    /// <param name="master">Whether stems and the guide mix go through the master's limiter, which bends their sum.</param>
    public static Preparation Of(Preparation preparation, StemMaster master) => preparation with
    {
        Mix = new MixChoices(Stems: true, master, Guide: true, ListeningCopies.GuideMix),
        Click = new ClickChoices(Print: true),

        // In the mixes its notes are played by a stand-in, which the room knows.
        Accepted = ["instrument Bass drum"],
        Tracks = preparation.Tracks.Select(c => c.TrackId switch
        {
            "double-bass" => c with { Treatment = Treatment.PrintThrough },
            "cello" or "horn-close" => c with { Treatment = Treatment.PrintMixed },
            "celesta" or "harp" => c with { Treatment = Treatment.NotesAndPrint },
            "long-hall" or "echo-wall" => c with { Treatment = Treatment.PrintThrough },
            "strings" => c with { Treatment = Treatment.PrintMixed },
            "array" => c with { Channels = DeliveredChannels.Separate },
            "narrator" => c with { Group = "Voice" },
            _ => c,
        }).ToValueArray(),
    };
}
