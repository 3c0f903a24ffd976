namespace Lyrotrans.Core.Preparing;

/// <summary>What goes along besides the tracks themselves: stems, the guide mix, copies to listen to, and a table of levels.</summary>
/// <param name="Stems">One file for every group of tracks, finished, with their share of the returns.</param>
/// <param name="Master">Where stems and guide mix are taken.</param>
/// <param name="Guide">The mix, as one file.</param>
/// <param name="Copies">Of which files a lossy copy goes along.</param>
/// <param name="CopyForm">Its format.</param>
/// <param name="Levels">Levels and loudness of every sound file, as a table.</param>
/// <param name="Sounding">Which tracks sound in the guide mix, and in prints of returns and buses. Stems are of what goes.</param>
/// <param name="Finished">The mix through the master, as a file to listen to.</param>
public sealed record MixChoices(
    bool Stems = false, StemMaster Master = StemMaster.Before, bool Guide = false, ListeningCopies Copies = ListeningCopies.None, ListeningForm CopyForm = ListeningForm.Ogg, bool Levels = false, MixSounding Sounding = MixSounding.WhatGoes, bool Finished = false)
{
    /// <summary>Stems without effects and returns: what is in them at its place, level and pan.</summary>
    public bool DryStems { get; init; }

    /// <summary>The bit rate of copies, in kbit/s; none is the usual one of their format.</summary>
    public long? CopyRate { get; init; }

    /// <summary>Whether anything is mixed: stems, the guide mix or the finished mix.</summary>
    public bool HasMix => Stems || Guide || Finished;
}
