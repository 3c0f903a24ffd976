using System.Reflection;
using NetArchTest.Rules;

namespace Lyrotrans.Web.Tests;

public class ArchitectureTests
{
    // From the heart outwards; a project may use only what stands before its own arrows.
    private static readonly Dictionary<string, string[]> s_mayUse = new()
    {
        ["Lyrotrans.Core"] = [],
        ["Lyrotrans.Audio"] = ["Lyrotrans.Core"],
        ["Lyrotrans.Formats"] = ["Lyrotrans.Core"],
        ["Lyrotrans.Workflow"] = ["Lyrotrans.Core", "Lyrotrans.Audio", "Lyrotrans.Formats"],
        ["Lyrotrans.Storage"] = ["Lyrotrans.Core"],
    };

    private static Assembly Load(string name) => Assembly.Load(name);

    [Theory]
    [InlineData("Lyrotrans.Core")]
    [InlineData("Lyrotrans.Audio")]
    [InlineData("Lyrotrans.Formats")]
    [InlineData("Lyrotrans.Workflow")]
    [InlineData("Lyrotrans.Storage")]
    public void Arrows_run_down_the_list_only(string project)
    {
        var forbidden = new[] { "Lyrotrans.Core", "Lyrotrans.Audio", "Lyrotrans.Formats", "Lyrotrans.Workflow", "Lyrotrans.Storage", "Lyrotrans.Web", "Lyrotrans.Cli", "Lyrotrans.Demo" }
            .Where(p => p != project && !s_mayUse[project].Contains(p)).ToArray();
        var references = Load(project).GetReferencedAssemblies().Select(a => a.Name!).ToList();
        Assert.Empty(references.Intersect(forbidden));
        Assert.DoesNotContain("lyro", references);
        var result = Types.InAssembly(Load(project)).ShouldNot().HaveDependencyOnAny(forbidden).GetResult();
        Assert.True(result.IsSuccessful, string.Join(", ", result.FailingTypeNames ?? []));
    }

    [Fact]
    public void The_heart_knows_no_files_no_database_and_no_screen()
    {
        var result = Types.InAssembly(Load("Lyrotrans.Core")).ShouldNot()
            .HaveDependencyOnAny("System.IO.File", "System.IO.FileStream", "System.IO.Directory", "System.Net", "System.Data", "Microsoft.EntityFrameworkCore", "Microsoft.AspNetCore", "System.Runtime.InteropServices.Marshal")
            .GetResult();
        Assert.True(result.IsSuccessful, string.Join(", ", result.FailingTypeNames ?? []));
    }

    [Fact]
    public void Only_the_web_project_knows_http()
    {
        foreach (var project in s_mayUse.Keys.Where(p => p != "Lyrotrans.Storage"))
        {
            Assert.DoesNotContain(Load(project).GetReferencedAssemblies(), a => a.Name!.StartsWith("Microsoft.AspNetCore", StringComparison.Ordinal));
        }
    }

    [Fact]
    public void Native_libraries_are_called_from_one_folder()
    {
        foreach (var project in s_mayUse.Keys)
        {
            var calls = Load(project).GetTypes().Where(t => t.GetMethods(BindingFlags.Static | BindingFlags.Public | BindingFlags.NonPublic).Any(m => m.Attributes.HasFlag(MethodAttributes.PinvokeImpl)));
            Assert.All(calls, t => Assert.Equal("Lyrotrans.Audio.Native", t.Namespace));
        }
    }
}
