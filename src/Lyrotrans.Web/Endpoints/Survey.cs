using Lyrotrans.Workflow.Build;
using System.Runtime.InteropServices;
using System.Text.Json;
using System.Text.Json.Serialization;
using Lyrotrans.Audio.Peaks;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Positions;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Storing;
using Lyrotrans.Formats.MarkerList;
using Lyrotrans.Web.Text;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Surveying;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Web.Endpoints;

/// <summary>What the timeline draws: the session, peaks and samples, and exact positions.</summary>
public static class Survey
{
    private const int MostFrames = 1 << 17;

    // Of all channels: 4 MB of answer, however many channels a file says to have.
    private const int MostSamples = 1 << 20;

    private static readonly JsonSerializerOptions s_json = new(JsonSerializerDefaults.Web) { DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull, Converters = { new MarkedTextConverter() } };

    public static void MapSurvey(this WebApplication app)
    {
        app.MapGet("/transfers/{id:guid}/survey.json", async (Guid id, HttpContext context, DeskLoader desks, CancellationToken stop) =>
            await desks.OpenAsync(context.User, id, context.Request.Query["to"], stop) is { } desk ? Results.Json(SurveyData.Of(desk, desks.Flags(desk), DeliveryRange.Of(desk.Session, desk.Preparation, desks.Sounds(desk))), s_json) : Results.NotFound());
        app.MapGet("/transfers/{id:guid}/takes.json", async (Guid id, HttpContext context, DeskLoader desks, CancellationToken stop) =>
            await desks.OpenAsync(context.User, id, context.Request.Query["to"], stop) is { } desk ? Results.Json(SurveyData.Takes(desk.Session), s_json) : Results.NotFound());
        app.MapGet("/transfers/{id:guid}/notes/{track}", NotesAsync);
        app.MapGet("/transfers/{id:guid}/peaks/{sha256}/{level:int}", PeaksAsync);
        app.MapGet("/transfers/{id:guid}/samples/{sha256}", SamplesAsync);
        app.MapGet("/transfers/{id:guid}/position", PositionAsync);
        Table(app, "markers", MarkerListWriter.Write);
        Table(app, "settings", SettingsTable.Write);
    }

    private static void Table(IEndpointRouteBuilder app, string name, Func<Session, byte[]> write) => app.MapGet(
        $"/transfers/{{id:guid}}/{name}.csv",
        async (Guid id, HttpContext context, DeskLoader desks, CancellationToken stop) => await desks.OpenAsync(context.User, id, context.Request.Query["to"], stop) is { } desk
            ? Results.File(write(desk.Session), "text/csv; charset=utf-8", $"{LegalName.From(desk.Session.Name)}_{name}.csv")
            : Results.NotFound());

    private static async Task<IResult> NotesAsync(Guid id, string track, int from, HttpContext context, DeskLoader desks, CancellationToken stop)
    {
        if (await desks.OpenAsync(context.User, id, context.Request.Query["to"], stop) is not { } desk || desk.Session.Tracks.FirstOrDefault(t => t.Id == track) is not { } found)
        {
            return Results.NotFound();
        }

        return from < 0 ? Results.BadRequest("Notes are counted from 0.") : Results.Json(SurveyData.Notes(desk.Session, found, from), s_json);
    }

    private static async Task<IResult> PeaksAsync(Guid id, string sha256, int level, HttpContext context, DeskLoader desks, CancellationToken stop)
    {
        if (await desks.OpenAsync(context.User, id, context.Request.Query["to"], stop) is not { } desk || MediumOf(desk, sha256) is null)
        {
            return Results.NotFound();
        }

        if (desk.Media.DerivedOf(sha256, SoundMeasures.PeaksName) is not { } peaks)
        {
            // Not measured yet: whoever asks may ask again.
            return Results.Accepted();
        }

        await using var stream = peaks.Open();
        var pyramid = PeakPyramid.Read(stream, "peaks");
        level = Math.Clamp(level, 0, pyramid.Levels - 1);
        context.Response.Headers.CacheControl = "private, max-age=31536000, immutable";
        context.Response.Headers["X-Level"] = level.ToString(System.Globalization.CultureInfo.InvariantCulture);
        return Results.Bytes(MemoryMarshal.AsBytes(pyramid.Level(level)).ToArray(), "application/octet-stream");
    }

    private static async Task<IResult> SamplesAsync(Guid id, string sha256, long from, int count, HttpContext context, DeskLoader desks, CancellationToken stop)
    {
        if (await desks.OpenAsync(context.User, id, context.Request.Query["to"], stop) is not { } desk
            || MediumOf(desk, sha256) is not { } media)
        {
            return Results.NotFound();
        }

        if (from < 0 || count is < 1 or > MostFrames)
        {
            return Results.Problem($"Samples are given from 0 on, 1 to {MostFrames} at a time.", statusCode: StatusCodes.Status400BadRequest);
        }

        using var file = SoundFile.Open(desk.Media.FileOf(sha256), media.FileName);
        var channels = file.Source.Channels;
        count = (int)Math.Clamp(file.Source.Length - from, 0, Math.Min(count, MostSamples / channels));
        var planar = Enumerable.Range(0, channels).Select(_ => new double[count]).ToArray();
        file.Source.Read(from, count, planar);
        var samples = new float[count * channels];
        for (var i = 0; i < count; i++)
        {
            for (var c = 0; c < channels; c++)
            {
                samples[(i * channels) + c] = (float)planar[c][i];
            }
        }

        context.Response.Headers.CacheControl = "private, max-age=31536000, immutable";
        return Results.Bytes(MemoryMarshal.AsBytes<float>(samples).ToArray(), "application/octet-stream");
    }

    /// <summary>The medium of a desk's session that has these bytes, where they are its room's and not missing.</summary>
    private static Media? MediumOf(Desk desk, string sha256) => desk.Session.Media.FirstOrDefault(m => m.Sha256 == sha256 && desk.Media.Holds(m));

    /// <summary>One instant in all four forms, from whichever was typed.</summary>
    private static async Task<IResult> PositionAsync(Guid id, string kind, string text, HttpContext context, DeskLoader desks, CancellationToken stop)
    {
        if (await desks.OpenAsync(context.User, id, context.Request.Query["to"], stop) is not { } desk)
        {
            return Results.NotFound();
        }

        return PositionText.Parse(desk.Session, kind, text) is { } sample
            ? Results.Json(PositionText.Of(desk.Session, sample), s_json)
            : Results.Problem($"\"{text}\" is no place in {kind}.", statusCode: StatusCodes.Status400BadRequest);
    }
}
