using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Replying;
using Lyrotrans.Workflow.Incoming;
using Lyrotrans.Workflow.Intake;

namespace Lyrotrans.Workflow.Editing;

/// <summary>Makes a preparation the reply to a package that was brought in, and no reply again.</summary>
/// <param name="intake">With the packages.</param>
/// <param name="joined">The session that it makes, and which tracks came in which package.</param>
/// <param name="before">The preparation as it stands.</param>
public sealed class ReplyEdits(IntakeState intake, JoinedSession joined, Preparation before)
{
    // Days at any rate.
    private const long MostSamples = 1L << 40;

    /// <summary>Only what was added here goes, from the package's zero.</summary>
    /// <param name="manifest">SHA-256 of the package's manifest.</param>
    public Edit<Preparation> To(string? manifest)
    {
        if (intake.PackagesHere.FirstOrDefault(p => p.Manifest == manifest) is not { } package)
        {
            return new Refused("This package is not there any more.");
        }

        if (package.RangeStart is < -MostSamples or > MostSamples)
        {
            return new Refused("The package says a start that no session can have. Ask for it again.");
        }

        var came = joined.Came.Where(c => c.Value == package.Manifest).Select(c => c.Key).ToHashSet();
        if (came.Count == 0)
        {
            return new Refused("Another session leads, so nothing can be told from what the package brought. Let the package's session document lead at Intake.");
        }

        // Tracks that were joined or split here are made of what came: they were not added.
        var made = joined.Session.Tracks.Where(t => !came.Contains(t.Id) && t.Lanes.Any(l => l.Clips.Count > 0) && t.Lanes.SelectMany(l => l.Clips).All(c => joined.Session.Media.First(m => m.Id == c.Media).Delivery == package.Manifest));
        came.UnionWith(made.Select(t => t.Id));
        return Reply.Of(joined.Session, before, came, package.Manifest, package.RangeStart, NumbersOf(package)) is { } reply
            ? new Edit<Preparation>(reply, $"a reply to the package of {package.Session}: only what was added here", null)
            : new Refused("Nothing was added here that could go. Bring what you made in at Intake, or give it a treatment, and reply then.");
    }

    /// <summary>Rows stay as they are; what goes is a package of its own.</summary>
    public Edit<Preparation> Not() => before.ReplyTo is null ? new Refused("This is no reply.") : new Edit<Preparation>(before with { ReplyTo = null }, "no reply any more", null);

    /// <summary>How far the names of a package are numbered: what is added goes on from there.</summary>
    public static int NumbersOf(IncomingPackage package)
    {
        var names = package.Files.Where(f => f.Kind is PlannedKind.FromZero or PlannedKind.Click).Select(f => f.Path[(f.Path.LastIndexOf('/') + 1)..]).ToList();
        return names.Select(NamePattern.NumberOf).DefaultIfEmpty(0).Max() is > 0 and var last ? last : names.Count;
    }
}
