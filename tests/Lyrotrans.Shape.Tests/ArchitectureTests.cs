using System.Reflection;
using ArchUnitNET.Domain;
using ArchUnitNET.Loader;

namespace Lyrotrans.Shape.Tests;

/// <summary>Which part may know which: read off the compiled code, so that nothing can be forgotten here.</summary>
public class ArchitectureTests
{
    // From the heart outwards; a project may use only what stands before its own arrows.
    private static readonly Dictionary<string, string[]> s_mayUse = new()
    {
        ["Lyrotrans.Core"] = [],
        ["Lyrotrans.Files"] = ["Lyrotrans.Core"],
        ["Lyrotrans.Decoder"] = [],
        ["Lyrotrans.Audio"] = ["Lyrotrans.Core", "Lyrotrans.Decoder"],
        ["Lyrotrans.Formats"] = ["Lyrotrans.Core"],
        ["Lyrotrans.Workflow"] = ["Lyrotrans.Core", "Lyrotrans.Files", "Lyrotrans.Audio", "Lyrotrans.Formats"],
        ["Lyrotrans.Storage"] = ["Lyrotrans.Core", "Lyrotrans.Files"],
    };

    private static readonly string[] s_all = ["Lyrotrans.Core", "Lyrotrans.Files", "Lyrotrans.Decoder", "Lyrotrans.Audio", "Lyrotrans.Formats", "Lyrotrans.Workflow", "Lyrotrans.Storage", "Lyrotrans.Web", "lyro", "Lyrotrans.Demo"];

    private static readonly Lazy<Architecture> s_code = new(() => new ArchLoader().LoadAssemblies([.. s_all.Select(System.Reflection.Assembly.Load)]).Build());

    public static TheoryData<string> Projects => new(s_mayUse.Keys);

    private static IEnumerable<IType> TypesOf(string project) => s_code.Value.Types.Where(t => t.Assembly.Name.Split(',')[0] == project);

    private static IEnumerable<string> Targets(IType type) => type.Dependencies.Select(d => d.Target.FullName).Distinct();

    [Theory]
    [MemberData(nameof(Projects))]
    public void Arrows_run_down_the_list_only(string project)
    {
        var forbidden = s_all.Where(p => p != project && !s_mayUse[project].Contains(p)).ToHashSet();
        Assert.DoesNotContain(System.Reflection.Assembly.Load(project).GetReferencedAssemblies(), a => forbidden.Contains(a.Name!));
    }

    [Fact]
    public void The_product_does_not_know_its_demo() =>
        Assert.All(s_all.Where(p => p != "Lyrotrans.Demo"), p => Assert.DoesNotContain(System.Reflection.Assembly.Load(p).GetReferencedAssemblies(), a => a.Name == "Lyrotrans.Demo"));

    [Fact]
    public void The_heart_knows_no_files_no_database_and_no_screen()
    {
        string[] forbidden = ["System.IO.File", "System.IO.FileStream", "System.IO.Directory", "System.Net.", "System.Data.", "Microsoft.EntityFrameworkCore.", "Microsoft.AspNetCore.", "System.Runtime.InteropServices.Marshal"];
        var types = TypesOf("Lyrotrans.Core").ToList();
        Assert.NotEmpty(types);
        Assert.Empty(types.SelectMany(t => Targets(t).Where(d => forbidden.Any(f => f.EndsWith('.') ? d.StartsWith(f, StringComparison.Ordinal) : d == f)).Select(d => $"{t.FullName} uses {d}")));
    }

    [Fact]
    public void Only_the_web_project_knows_http()
    {
        foreach (var project in s_mayUse.Keys.Where(p => p != "Lyrotrans.Storage"))
        {
            Assert.DoesNotContain(System.Reflection.Assembly.Load(project).GetReferencedAssemblies(), a => a.Name!.StartsWith("Microsoft.AspNetCore", StringComparison.Ordinal));
        }
    }

    [Fact]
    public void Native_libraries_are_called_from_one_folder_and_from_the_decoder_which_is_apart()
    {
        foreach (var project in s_all.Where(p => p != "Lyrotrans.Decoder"))
        {
            var calls = System.Reflection.Assembly.Load(project).GetTypes().Where(t => t.GetMethods(BindingFlags.Static | BindingFlags.Public | BindingFlags.NonPublic).Any(m => m.Attributes.HasFlag(MethodAttributes.PinvokeImpl)));
            Assert.All(calls, t => Assert.Equal("Lyrotrans.Audio.Native", t.Namespace));
        }
    }

    [Fact]
    public void Namespaces_know_each_other_one_way_only()
    {
        var arrows = s_all.SelectMany(TypesOf).Where(t => t.Namespace is not null)
            .SelectMany(t => t.Dependencies.Select(d => (From: t.Namespace!.FullName, To: d.Target.Namespace?.FullName ?? string.Empty)))
            .Where(a => a.From != a.To && a.To.StartsWith("Lyrotrans.", StringComparison.Ordinal) && a.From.StartsWith("Lyrotrans.", StringComparison.Ordinal))
            .Distinct().ToLookup(a => a.From, a => a.To);
        Assert.NotEmpty(arrows);
        var circles = Circles(arrows);
        Assert.True(circles.Count == 0, string.Join('\n', circles.Select(c => $"{string.Join(" ", c.Order(StringComparer.Ordinal))}\n    {string.Join("\n    ", Inside(c))}")));
    }

    // What makes a circle: the uses inside it, type by type.
    private static IEnumerable<string> Inside(HashSet<string> circle) => s_all.SelectMany(TypesOf).Where(t => t.Namespace is not null && circle.Contains(t.Namespace.FullName))
        .SelectMany(t => t.Dependencies.Where(d => d.Target.Namespace is { } n && n.FullName != t.Namespace!.FullName && circle.Contains(n.FullName)).Select(d => $"{t.FullName} -> {d.Target.FullName}"))
        .Distinct().Order(StringComparer.Ordinal);

    /// <summary>Groups of more than one that reach each other.</summary>
    private static List<HashSet<string>> Circles(ILookup<string, string> arrows)
    {
        var reach = arrows.Select(a => a.Key).ToDictionary(n => n, n => Reached(arrows, n));
        return [.. reach.Keys.Select(n => reach[n].Where(m => m == n || (reach.TryGetValue(m, out var back) && back.Contains(n))).Append(n).ToHashSet())
            .Where(c => c.Count > 1).DistinctBy(c => string.Join(' ', c.Order(StringComparer.Ordinal)))];
    }

    private static HashSet<string> Reached(ILookup<string, string> arrows, string from)
    {
        var reached = new HashSet<string>();
        var next = new Stack<string>(arrows[from]);
        while (next.TryPop(out var name))
        {
            if (reached.Add(name))
            {
                foreach (var further in arrows[name])
                {
                    next.Push(further);
                }
            }
        }

        return reached;
    }
}
