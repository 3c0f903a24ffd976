using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Options;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Core.Preparing;

/// <summary>The options of a preparation that are chosen from a few values: how each is called in documents, in forms and in the list of revisions.</summary>
public static class Choices
{
    /// <summary>What becomes of a track.</summary>
    public static ChoiceList<Treatment> Treatments { get; } = new()
    {
        { Treatment.PrintDry, "print dry" },
        { Treatment.KeepClips, "keep clips" },
        { Treatment.Notes, "notes" },
        { Treatment.HoldBack, "hold back" },
        { Treatment.PrintThrough, "print through" },
        { Treatment.PrintLevel, "print at its level" },
        { Treatment.PrintMixed, "print as mixed" },
        { Treatment.NotesAndPrint, "notes and print" },
        { Treatment.StemOnly, "in its stem only" },
    };

    /// <summary>How many channels a track is delivered with.</summary>
    public static ChoiceList<DeliveredChannels> Channels { get; } = new()
    {
        { DeliveredChannels.AsTrack, "as track", "as the track has", "channels as the track has" },
        { DeliveredChannels.Mono, "mono", "to mono", "channels to mono" },
        { DeliveredChannels.Stereo, "stereo", "to stereo", "channels to stereo" },
        { DeliveredChannels.Separate, "separate", "a file each", "a file for each channel" },
    };

    /// <summary>Where all files begin.</summary>
    public static ChoiceList<RangeStart> Starts { get; } = new()
    {
        { RangeStart.SessionStart, "session start", "session start", "files from session start" },
        { RangeStart.Bar1, "bar 1", "bar 1", "files from bar 1" },
        { RangeStart.Chosen, "chosen", "chosen", "files from a chosen place" },
    };

    /// <summary>How the samples of prints can be stored; not every encoding can.</summary>
    public static ChoiceList<SampleEncoding> Encodings { get; } = new()
    {
        { SampleEncoding.Integer16, "integer 16", SampleEncoding.Integer16.Words(), SampleEncoding.Integer16.Words() },
        { SampleEncoding.Integer24, "integer 24", SampleEncoding.Integer24.Words(), SampleEncoding.Integer24.Words() },
        { SampleEncoding.Integer32, "integer 32", SampleEncoding.Integer32.Words(), SampleEncoding.Integer32.Words() },
        { SampleEncoding.Float32, "float 32", SampleEncoding.Float32.Words(), SampleEncoding.Float32.Words() },
    };

    /// <summary>The kinds of files that can be made each in a way of their own.</summary>
    public static ChoiceList<FileKind> FileKinds { get; } = new()
    {
        { FileKind.Tracks, "tracks" },
        { FileKind.Returns, "returns", "returns and buses", "returns" },
        { FileKind.Stems, "stems" },
        { FileKind.GuideMix, "guide mix" },
        { FileKind.FinishedMix, "finished mix" },
        { FileKind.Click, "click" },
        { FileKind.Clips, "clips" },
    };

    /// <summary>What the files of a kind cover.</summary>
    public static ChoiceList<FileRange> FileRanges { get; } = new()
    {
        { FileRange.AllFiles, "all files", "what all files cover", "what all files cover" },
        { FileRange.SessionStart, "session start", "from session start", "from session start" },
        { FileRange.Bar1, "bar 1", "from bar 1", "from bar 1" },
        { FileRange.Sound, "sound", "first sound to last", "from the first sound to the last" },
        { FileRange.Chosen, "chosen", "own places", "places of their own" },
    };

    /// <summary>The format of sound files.</summary>
    public static ChoiceList<SoundContainer> Containers { get; } = new()
    {
        { SoundContainer.Wav, "wav", "WAV", "as WAV" },
        { SoundContainer.Flac, "flac", "FLAC", "as FLAC" },
        { SoundContainer.Aiff, "aiff", "AIFF", "as AIFF" },
    };

    /// <summary>Which characters a room takes in names.</summary>
    public static ChoiceList<NameLetters> Letters { get; } = new()
    {
        { NameLetters.Any, "any", "any", "names of any letters" },
        { NameLetters.Ascii, "ascii", "A to Z, no marks", "names without marks" },
        { NameLetters.Plain, "plain", "A to Z, 0 to 9, - and _", "names of A to Z, 0 to 9, - and _" },
    };

    /// <summary>What is done with sound above full scale.</summary>
    public static ChoiceList<OversPolicy> Overs { get; } = new()
    {
        { OversPolicy.Hold, "hold", "held at it, and said", "overs: held at full scale" },
        { OversPolicy.Lower, "lower", "all files lowered", "overs: all files lowered" },
    };

    /// <summary>How bits are lost to 16.</summary>
    public static ChoiceList<DitherForm> Dithers { get; } = new()
    {
        { DitherForm.Flat, "flat", "flat", "dither flat" },
        { DitherForm.Shaped, "shaped", "shaped", "dither shaped" },
    };

    /// <summary>Where stems and guide mix are taken.</summary>
    public static ChoiceList<StemMaster> Masters { get; } = new()
    {
        { StemMaster.Before, "before", "before the master's effects", "mix before the master's effects" },
        { StemMaster.Through, "through", "through the master", "mix through the master" },
    };

    /// <summary>Which tracks sound in the guide mix and in prints of returns and buses.</summary>
    public static ChoiceList<MixSounding> Soundings { get; } = new()
    {
        { MixSounding.WhatGoes, "what goes", "what goes", "mixes of what goes" },
        { MixSounding.AllHere, "all here", "everything that sounds here", "mixes of everything that sounds here" },
        { MixSounding.AllButMarked, "all but marked", "all but marked tracks", "mixes of all but marked tracks" },
        { MixSounding.OnlyMarked, "only marked", "marked tracks only", "mixes of marked tracks only" },
    };

    /// <summary>Of which files a copy to listen to goes along.</summary>
    public static ChoiceList<ListeningCopies> Copies { get; } = new()
    {
        { ListeningCopies.None, "none", "none", "no copies to listen to" },
        { ListeningCopies.GuideMix, "guide mix", "of the guide mix", "a copy of the guide mix to listen to" },
        { ListeningCopies.All, "all", "of every sound file", "a copy of every sound file to listen to" },
    };

    /// <summary>The format of copies to listen to.</summary>
    public static ChoiceList<ListeningForm> CopyForms { get; } = new()
    {
        { ListeningForm.Ogg, "ogg", "Ogg", "copies as Ogg" },
        { ListeningForm.Mp3, "mp3", "MP3", "copies as MP3" },
    };

    /// <summary>Whether the reference picture goes as a file, and how much of it.</summary>
    public static ChoiceList<PictureExtent> PictureExtents { get; } = new()
    {
        { PictureExtent.None, "none", "does not go", "no picture" },
        { PictureExtent.Whole, "whole", "goes whole", "picture goes whole" },
        { PictureExtent.FromFiles, "from the files' start", "goes from where the files begin", "picture from where the files begin" },
    };

    /// <summary>What the reference picture is coded as.</summary>
    public static ChoiceList<PictureForm> PictureForms { get; } = new()
    {
        { PictureForm.AsItIs, "as it is", "as it is", "picture as it is" },
        { PictureForm.H264, "h264", "H.264 in MP4", "picture as H.264" },
        { PictureForm.Vc3, "vc3", "VC-3 in MOV", "picture as VC-3" },
        { PictureForm.Rdd36, "rdd36", "RDD 36 in MOV", "picture as RDD 36" },
    };

    /// <summary>In which files markers go.</summary>
    public static ChoiceList<MarkersForm> MarkerForms { get; } = new()
    {
        { MarkersForm.All, "all", "in MIDI, clips and a list", "markers in all files" },
        { MarkersForm.ListOnly, "list only", "in the list only", "markers in the list only" },
        { MarkersForm.None, "none", "in no file", "no markers" },
    };

    /// <summary>How a receiving room wants files laid out.</summary>
    public static ChoiceList<FolderLayout> Folders { get; } = new()
    {
        { FolderLayout.ByKind, "by kind", "by kind", "folders by kind" },
        { FolderLayout.Flat, "one folder", "all in one", "all files in one folder" },
    };

    /// <summary>How parts become MIDI files.</summary>
    public static ChoiceList<MidiForm> MidiForms { get; } = new()
    {
        { MidiForm.OneFile, "one file", "one file, parts joined", "MIDI as one file" },
        { MidiForm.TrackPerPart, "track per part", "one file, a track a part", "a MIDI track for each part" },
        { MidiForm.FilePerPart, "file per part", "a file for each part", "a MIDI file for each part" },
    };

    /// <summary>How near the tempo of MIDI files keeps everything to its sample.</summary>
    public static ChoiceList<TempoForm> Tempos { get; } = new()
    {
        { TempoForm.Corrected, "corrected", "corrected", "tempo corrected" },
        { TempoForm.Within10, "within 10", "within 10 samples", "tempo within 10 samples" },
        { TempoForm.Within50, "within 50", "within 50 samples", "tempo within 50 samples" },
        { TempoForm.Plain, "plain", "plain", "tempo plain" },
    };

    /// <summary>What a click sounds like.</summary>
    public static ChoiceList<ClickVoice> Voices { get; } = new()
    {
        { ClickVoice.Tones, "tones", "two tones", "click of two tones" },
        { ClickVoice.Wood, "wood", "wood", "click of wood" },
        { ClickVoice.Bell, "bell", "small bell", "click of a small bell" },
        { ClickVoice.Tick, "tick", "short tick", "click of a short tick" },
    };

    /// <summary>What begins with the count-in.</summary>
    public static ChoiceList<CountIn> CountIns { get; } = new()
    {
        { CountIn.AllFiles, "all files", "all files", "all files start there" },
        { CountIn.ClickAlone, "click alone", "the click alone", "the click alone" },
    };

    /// <summary>The sample format of clips.</summary>
    public static ChoiceList<ClipDepth> ClipDepths { get; } = new()
    {
        { ClipDepth.Own, "own", "their own bits", "their own bits" },
        { ClipDepth.Integer16, "integer 16", "16 bits", "16 bits" },
        { ClipDepth.Integer24, "integer 24", "24 bits", "24 bits" },
    };

    /// <summary>Where the sound of clips lies, and as what.</summary>
    public static ChoiceList<ClipMediaForm> ClipMedia { get; } = new()
    {
        { ClipMediaForm.InsideWave, "inside, WAVE", "inside, as WAVE", "media inside, as WAVE" },
        { ClipMediaForm.InsideSamples, "inside, samples", "inside, as plain samples", "media inside, as plain samples" },
        { ClipMediaForm.InsideAiff, "inside, AIFF", "inside, as AIFF", "media inside, as AIFF" },
        { ClipMediaForm.BesideWave, "beside, WAVE", "beside it, as WAV", "media beside it, as WAV" },
        { ClipMediaForm.BesideAiff, "beside, AIFF", "beside it, as AIFF", "media beside it, as AIFF" },
    };

    /// <summary>What a handle is counted in.</summary>
    public static ChoiceList<HandleUnit> HandleUnits { get; } = new()
    {
        { HandleUnit.Milliseconds, "ms" },
        { HandleUnit.Frames, "frames" },
        { HandleUnit.Samples, "samples" },
    };

    /// <summary>How fades go.</summary>
    public static ChoiceList<FadeForm> Fades { get; } = new()
    {
        { FadeForm.Transitions, "transitions", "as transitions", "fades as transitions" },
        { FadeForm.Properties, "properties", "as clip properties", "fades as properties" },
        { FadeForm.Rendered, "rendered", "in the sound", "fades in the media" },
    };

    /// <summary>How volume automation goes.</summary>
    public static ChoiceList<VolumeForm> Volumes { get; } = new()
    {
        { VolumeForm.Kept, "kept", "as automation", "volume as automation" },
        { VolumeForm.Rendered, "rendered", "in the sound", "volume in the media" },
        { VolumeForm.LeftOut, "left out", "left out", "volume left out" },
    };

    /// <summary>How pan goes.</summary>
    public static ChoiceList<PanForm> Pans { get; } = new()
    {
        { PanForm.Kept, "kept", "as a parameter", "pan as a parameter" },
        { PanForm.Split, "split", "as left and right", "pan as a left and a right track" },
        { PanForm.LeftOut, "left out", "left out", "pan left out" },
    };
}
