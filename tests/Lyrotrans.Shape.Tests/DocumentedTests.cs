using System.Reflection;
using System.Runtime.CompilerServices;
using System.Xml.Linq;

namespace Lyrotrans.Shape.Tests;

/// <summary>How much of what other projects may use has a text; it only grows.</summary>
public class DocumentedTests
{
    // In percent, rounded down. A project that has more raises its line.
    private static readonly Dictionary<string, int> s_least = new()
    {
        ["Lyrotrans.Core"] = 100,
        ["Lyrotrans.Files"] = 100,
        ["Lyrotrans.Audio"] = 100,
        ["Lyrotrans.Formats"] = 100,
        ["Lyrotrans.Workflow"] = 100,
        ["Lyrotrans.Storage"] = 100,
    };

    public static TheoryData<string> Projects => new(s_least.Keys);

    [Theory]
    [MemberData(nameof(Projects))]
    public void No_less_is_documented_than_before(string project)
    {
        var assembly = Assembly.Load(project);
        var texts = XDocument.Load(Path.ChangeExtension(assembly.Location, ".xml")).Descendants("member").Where(m => m.Elements().Any())
            .Select(m => Name(m.Attribute("name")!.Value)).ToHashSet();
        var members = assembly.GetExportedTypes().Where(t => !t.Name.Contains('<') && t.Namespace is { } n && !n.EndsWith("Migrations", StringComparison.Ordinal)).SelectMany(Members).Distinct().ToList();
        var without = members.Where(m => !texts.Contains(m)).ToList();
        var percent = 100 * (members.Count - without.Count) / members.Count;
        Assert.True(percent >= s_least[project], $"{percent} % of {members.Count} members of {project} are documented; before it were {s_least[project]} %. Without a text:\n{string.Join('\n', without)}");
        Assert.True(percent <= s_least[project] + 1, $"{percent} % of {members.Count} members of {project} are documented: raise the line from {s_least[project]}.");
    }

    // Overloads share a text; what a record or an enumeration says of itself in one place is not asked for again.
    private static IEnumerable<string> Members(Type type)
    {
        var name = type.FullName!.Replace('+', '.');
        yield return name;
        if (type.IsEnum || type.IsSubclassOf(typeof(Delegate)))
        {
            yield break;
        }

        var positional = type.GetConstructors().SelectMany(c => c.GetParameters()).Select(p => p.Name).ToHashSet();
        const BindingFlags own = BindingFlags.Public | BindingFlags.Instance | BindingFlags.Static | BindingFlags.DeclaredOnly;
        foreach (var member in type.GetMembers(own).Where(m => m is not (ConstructorInfo or Type) && m.GetCustomAttribute<CompilerGeneratedAttribute>() is null))
        {
            var said = member switch
            {
                MethodInfo method => method.IsSpecialName || method.GetBaseDefinition() != method || Inherited(type, method) || method.Name is "Deconstruct" or "Equals" or "GetHashCode" or "ToString" or "PrintMembers" ? null : method.Name,
                PropertyInfo property => positional.Contains(property.Name) || Inherited(type, property.GetMethod) || property.Name == "EqualityContract" ? null : property.Name,
                FieldInfo field => field.Name,
                _ => null,
            };
            if (said is not null)
            {
                yield return $"{name}.{said}";
            }
        }
    }

    private static bool Inherited(Type type, MethodInfo? method) => method is not null && !type.IsInterface && type.GetInterfaces().Any(i => type.GetInterfaceMap(i).TargetMethods.Contains(method));

    private static string Name(string id)
    {
        var name = id[2..];
        var end = name.IndexOf('(', StringComparison.Ordinal);
        name = end < 0 ? name : name[..end];
        var generic = name.IndexOf("``", StringComparison.Ordinal);
        return generic < 0 ? name : name[..generic];
    }
}
