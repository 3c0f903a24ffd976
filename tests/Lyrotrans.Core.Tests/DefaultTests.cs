using System.Reflection;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Tests;

/// <summary>A value that nobody set is a value: every property of it can be read, and it is equal to what it means.</summary>
public class DefaultTests
{
    private static readonly Dictionary<Type, object> s_means = new()
    {
        [typeof(MeterChange)] = new MeterChange(1, 4, 4),
        [typeof(Rational)] = Rational.Zero,
    };

    public static TheoryData<string> Values => new(typeof(Rational).Assembly.GetExportedTypes()
        .Where(t => t is { IsValueType: true, IsEnum: false, IsGenericTypeDefinition: false }).Select(t => t.FullName!));

    [Theory]
    [MemberData(nameof(Values))]
    public void A_value_that_nobody_set_can_be_asked_anything(string name)
    {
        var type = typeof(Rational).Assembly.GetType(name)!;
        var value = Activator.CreateInstance(type)!;
        foreach (var property in type.GetProperties(BindingFlags.Public | BindingFlags.Instance).Where(p => p.GetIndexParameters().Length == 0))
        {
            _ = property.GetValue(value);
        }

        Assert.NotNull(value.ToString());
        Assert.Equal(value, Activator.CreateInstance(type));
        Assert.Equal(value.GetHashCode(), Activator.CreateInstance(type)!.GetHashCode());
        if (s_means.TryGetValue(type, out var means))
        {
            Assert.Equal(means, value);
            Assert.Equal(means.ToString(), value.ToString());
        }
    }
}
