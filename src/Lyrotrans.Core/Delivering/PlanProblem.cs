using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Pictures;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Rates;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

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
        DeliveryRange.Problem(session, preparation) ?? Sheet(session, preparation) ?? Picture(session, preparation) ?? Circle(session, preparation) ?? Marks(session, preparation) ?? StemsOnly(session, preparation) ?? Container(files) ?? Empty(files) ?? Delivered(session, preparation, files) ?? StandIns(session, preparation) ?? Rates(session, preparation, files);

    private static string? Sheet(Session session, Preparation preparation) => preparation.Sheet is { } sheet && sheet.Rate is { } rate && preparation.RateOf(session.Rate).PerSecond != rate
        ? $"{sheet.Name} asks for {rate} Hz, and the files go at {preparation.RateOf(session.Rate)}. Choose {rate} Hz, ask the receiver, or take another sheet."
        : preparation.Sheet is { Start.Length: > 0 } starts && Starts(session, preparation) is var at && at != starts.Start ? $"{starts.Name} asks for files that start at {starts.Start}, and these start at {at}. Say at Intake where the session starts, ask the receiver, or take another sheet."
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
        var renders = preparation.Mix.HasMix || preparation.Tracks.Any(c => c.Treatment.IsThrough());
        return renders && SignalPaths.Of(session).Circle is { } circle
            ? $"These tracks feed each other in a circle, so there is no mix of them: {circle}. Take a send away, or print tracks dry."
            : null;
    }

    private static string? StemsOnly(Session session, Preparation preparation) =>
        !preparation.Mix.Stems && preparation.Tracks.FirstOrDefault(c => c.Treatment == Treatment.StemOnly) is { } alone && session.Tracks.FirstOrDefault(t => t.Id == alone.TrackId) is { } track
            ? $"{track.Name} is to go in its stem only, and no stems go. Let stems go, or choose another treatment."
            : null;

    private static string? Marks(Session session, Preparation preparation) =>
        preparation.Mix.Sounding != MixSounding.WhatGoes && MixTracks.AreNeeded(session, preparation) && MixTracks.Of(session, preparation).Count == 0
            ? preparation.Mix.Sounding == MixSounding.OnlyMarked
                ? "Only marked tracks are to sound in the guide mix and in returns, and none that sounds is marked. Mark some, or let everything sound."
                : "Nothing is left to sound in the guide mix and in returns. Mark fewer tracks, or let everything sound."
            : null;

    private static string? Container(ValueArray<PlannedFile> files) => files.Where(f => f.IsSound || f.Kind == PlannedKind.SameSound).Select(Container).FirstOrDefault(p => p is not null);

    private static string? Container(PlannedFile file)
    {
        var form = file.Made;
        return !Preparation.CanHold(form.Container, form.Encoding) ? $"{Choices.Containers[form.Container].Words} does not hold {form.Encoding.Words()}. Take WAV."
            : form.Container == SoundContainer.Aiff && file.Bytes > MostAiffBytes ? $"{file.Path} would be larger than the 4 GiB that AIFF holds. Take WAV."
            : form.Container == SoundContainer.Flac && file.Channels > MostFlacChannels ? $"{file.Path} has {file.Channels} channels, and FLAC holds {MostFlacChannels}. Take WAV."
            : form.Container == SoundContainer.Flac && form.Rate.PerSecond > FastestFlacHz ? $"FLAC holds rates up to {FastestFlacHz} Hz; {file.Path} would have {form.Rate}. Take WAV."
            : null;
    }

    private static string? Empty(ValueArray<PlannedFile> files) => files.FirstOrDefault(f => f.IsSound && f.Span.Length <= 0) is { } empty
        ? $"{empty.Path} would cover nothing: it would begin where the files end. Choose a later end, or another range for files of its kind."
        : null;

    private static string? Delivered(Session session, Preparation preparation, ValueArray<PlannedFile> files)
    {
        var asked = files.Where(f => f.IsSound).Select(f => f.Made.Rate).Append(preparation.RateOf(session.Rate));
        return asked.Where(r => !RateLimits.CanConvert(session.Rate, r)).Select(far => (SampleRate?)far).FirstOrDefault() is { } rate
            ? $"{session.Rate}, the session's rate, cannot be converted to {rate}. Choose a nearer rate."
            : null;
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
        return session.Media.FirstOrDefault(m => media.Contains(m.Id) && !m.IsAbsent && !RateLimits.CanConvert(m.Rate, session.Rate)) is { } far
            ? $"The rate of {far.FileName}, {far.Rate}, cannot be converted to {session.Rate}. Say at Intake which rate it has, or bring in another file."
            : null;
    }
}
