using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Pictures;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Rates;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Core.Delivering;

/// <summary>Why sound cannot be made as it was asked for, and what to do: known from the plan alone, so it is said before anything is built.</summary>
internal static class PlanProblem
{
    private const int MostFlacChannels = 8;
    private const int FastestFlacHz = 655_350;

    // AIFF has 32-bit sizes only; the rest of its chunks need a little.
    private const long MostAiffBytes = uint.MaxValue - 1024L;

    /// <summary>The first hindrance in words; null where there is none.</summary>
    public static string? Of(Session session, Preparation preparation, ValueArray<PlannedFile> files) =>
        DeliveryRange.Problem(session, preparation) ?? Sheet(session, preparation) ?? Picture(session, preparation) ?? Circle(session, preparation) ?? Marks(session, preparation) ?? Container(session, preparation, files) ?? StandIns(session, preparation) ?? Rates(session, preparation, files);

    private static string? Sheet(Session session, Preparation preparation) => preparation.Sheet is { } sheet && sheet.Rate is { } rate && session.Rate.PerSecond != rate
        ? $"{sheet.Name} asks for {rate} Hz, and files of another rate than the session's, {session.Rate}, cannot be made yet. Ask the receiver, or take another sheet."
        : preparation.Sheet is { Start.Length: > 0 } starts && Starts(session, preparation) is var at && at != starts.Start ? $"{starts.Name} asks for files that start at {starts.Start}, and these start at {at}. Say at Intake where the session starts, ask the receiver, or take another sheet."
        : preparation.Sheet is { Folders: FolderLayout.Flat } flat ? $"{flat.Name} asks for all files in one folder, and they can only be laid out by kind yet. Ask the receiver, or take another sheet."
        : preparation.Sheet is { Picture.Length: > 0 } asks ? $"{asks.Name} asks for a picture in words ({asks.Picture}), which nothing here can keep to. Ask the receiver, or take another sheet."
        : null;

    private static string Starts(Session session, Preparation preparation) => session.TimecodeScale.At(FilesStart.Of(session, preparation)).ToString();

    private static string? Picture(Session session, Preparation preparation) =>
        preparation.Picture.Extent == PictureExtent.None || session.Picture is not { } named ? null
        : PicturePlan.Of(session, preparation) is not { } picture ? $"The picture {named.FileName} is to go, and its file did not come, or could not be read. Bring it in, or say that none goes."
        : picture.IsEmpty ? $"The picture {named.FileName} has ended where the files begin. Let it go whole, or not at all."
        : null;

    private static string? Circle(Session session, Preparation preparation)
    {
        var renders = preparation.Mix.HasMix || preparation.Tracks.Any(c => c.Treatment is Treatment.PrintThrough or Treatment.PrintMixed or Treatment.NotesAndPrint);
        return renders && SignalPaths.Of(session).Circle is { } circle
            ? $"These tracks feed each other in a circle, so there is no mix of them: {circle}. Take a send away, or print tracks dry."
            : null;
    }

    private static string? Marks(Session session, Preparation preparation) =>
        preparation.Mix.Sounding != MixSounding.WhatGoes && MixTracks.AreNeeded(session, preparation) && MixTracks.Of(session, preparation).Count == 0
            ? preparation.Mix.Sounding == MixSounding.OnlyMarked
                ? "Only marked tracks are to sound in the guide mix and in returns, and none that sounds is marked. Mark some, or let everything sound."
                : "Nothing is left to sound in the guide mix and in returns. Mark fewer tracks, or let everything sound."
            : null;

    private static string? Container(Session session, Preparation preparation, ValueArray<PlannedFile> files)
    {
        if (!Preparation.CanHold(preparation.Container, preparation.Encoding))
        {
            return $"{preparation.Container.ToString().ToUpperInvariant()} does not hold {preparation.Encoding.Words()}. Take WAV.";
        }

        var sound = files.Where(f => f.IsSound && f.Kind != PlannedKind.ListeningCopy).ToList();
        return preparation.Container switch
        {
            SoundContainer.Aiff when sound.Find(f => f.Bytes > MostAiffBytes) is { } large => $"{large.Path} would be larger than the 4 GiB that AIFF holds. Take WAV.",
            SoundContainer.Flac when sound.Find(f => f.Channels > MostFlacChannels) is { } wide => $"{wide.Path} has {wide.Channels} channels, and FLAC holds {MostFlacChannels}. Take WAV.",
            SoundContainer.Flac when session.Rate.PerSecond > FastestFlacHz => $"FLAC holds rates up to {FastestFlacHz} Hz; this session has {session.Rate}. Take WAV.",
            _ => null,
        };
    }

    private static string? StandIns(Session session, Preparation preparation)
    {
        var roles = TrackRoles.Of(session);
        var keys = session.Tracks.Where(t => t.Kind == TrackKind.Notes && roles.PrintOf(t.Id) is null && t.State == TrackState.Active).Select(t => t.Id).ToHashSet();
        var played = preparation.Tracks.Any(c => c.Treatment == Treatment.NotesAndPrint && roles.PrintOf(c.TrackId) is null) || (preparation.Mix.HasMix && keys.Count > 0);
        return played && session.Rate.PerSecond > RateLimits.FastestStandInHz
            ? $"Stand-in sounds for notes are made up to {RateLimits.FastestStandInHz} Hz; this session has {session.Rate}. Send the notes without a print and without a mix, or hold them back."
            : null;
    }

    private static string? Rates(Session session, Preparation preparation, ValueArray<PlannedFile> files)
    {
        if (!files.Any(f => f.IsSound))
        {
            return null;
        }

        var used = files.Select(f => f.TrackId).ToHashSet();
        used.UnionWith(MixTracks.AreNeeded(session, preparation) ? MixTracks.Of(session, preparation) : new HashSet<string>());
        used.UnionWith(preparation.Mix.Stems ? StemGroup.AllOf(session, preparation) : new HashSet<string>());
        var roles = TrackRoles.Of(session);
        var media = session.Tracks.Where(t => used.Contains(t.Id)).SelectMany(t => new[] { t, roles.Sounding(t) }).Concat(session.Tracks.Where(t => t.Kind.HasRole() && t.Kind != TrackKind.Click)).SelectMany(t => t.Sounding?.Clips ?? []).Select(c => c.Media).ToHashSet();
        return session.Media.FirstOrDefault(m => media.Contains(m.Id) && m.Place != MediaPlace.Missing && !RateLimits.CanConvert(m.Rate, session.Rate)) is { } far
            ? $"The rate of {far.FileName}, {far.Rate}, cannot be converted to {session.Rate}. Say at Intake which rate it has, or bring in another file."
            : null;
    }
}
