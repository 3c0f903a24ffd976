using Lyrotrans.Storage;
using Lyrotrans.Storage.Revisions;
using Lyrotrans.Web.Desks;

namespace Lyrotrans.Web.Pages.Transfers;

/// <summary>Everything on one timeline.</summary>
public sealed class SurveyModel(DeskLoader desks, LyroContext database, RevisionLog revisions) : DeskPage(desks, database, revisions)
{
    public override string StageName => "Survey";

    public override IReadOnlyList<(string Key, string Does)> Keys =>
    [
        ("← →", "move"), ("+ −", "closer, wider"), ("f", "next flag"), ("Shift ← →", "move a whole view"), ("↑ ↓", "track"),
        ("[ ]", "clip before, clip after"), ("h", "to the start"), ("e", "to the end"), ("w", "whole session"), ("s", "single samples"),
    ];
}
