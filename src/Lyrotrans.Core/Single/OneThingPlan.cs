using System.Globalization;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Core.Single;

/// <summary>How one thing of a session is taken alone: as a small delivery of nothing else, so that it is built and proved as all others are.</summary>
public sealed class OneThingPlan
{
    private readonly OneForm _form;

    private OneThingPlan(OneForm form, DeliveryPlan plan) => (_form, Plan) = (form, plan);

    /// <summary>The delivery.</summary>
    public DeliveryPlan Plan { get; }

    /// <summary>The file that is taken out of the package; null where the whole package is.</summary>
    public PlannedFile? File => _form switch
    {
        OneForm.Bundle => null,
        OneForm.Notes => Plan.Files.First(f => f.Kind == PlannedKind.Midi),
        _ => Plan.Files.First(f => f.Kind == PlannedKind.FromZero),
    };

    /// <summary>Plans it.</summary>
    /// <param name="thing">What, and as what.</param>
    /// <param name="session">The session that it is of.</param>
    /// <param name="preparation">As things are printed otherwise.</param>
    /// <param name="sounds">What was measured of media, by their identifiers.</param>
    /// <returns>The plan, or why there is none, in words.</returns>
    public static (OneThingPlan? Plan, string? Problem) Of(OneThing thing, Sessions.Session session, Preparation preparation, IReadOnlyDictionary<string, MediaSound> sounds)
    {
        var (alone, prepared, problem) = new OneThingSession(thing, session, preparation).Make();
        if (problem is not null)
        {
            return (null, problem);
        }

        var plan = DeliveryPlan.Make(alone, prepared, sounds);
        return plan.Problem is { } hindered ? (null, hindered) : (new OneThingPlan(thing.Form, plan), null);
    }

    /// <summary>A name with tempo and key behind it, as far as they are steady: <c>Celesta_92bpm_Dm</c>.</summary>
    internal static string Named(string name, Sessions.SteadyMusic music)
    {
        var tempo = music.Tempo is { } steady ? $"_{steady.ToDouble().ToString("0.##", CultureInfo.InvariantCulture)}bpm" : string.Empty;

        // No system refuses the word.
        return $"{name}{tempo}{(music.Key is { } key ? $"_{key.Replace("#", "sharp", StringComparison.Ordinal)}" : string.Empty)}";
    }
}
