using System.Collections;
using System.Reflection;
using System.Runtime.CompilerServices;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Tests;

/// <summary>Every session that differs from a given one in one place: each field of each object in it changed, and of each list an item left out, one more, and two changed over.</summary>
internal static class ModelChanges
{
    private static readonly string s_model = typeof(Session).Namespace!;

    /// <summary>The fields of the model that a session reaches, by their declarations.</summary>
    public static IEnumerable<(Type Type, string Field)> Fields(Type type, HashSet<Type>? seen = null)
    {
        seen ??= [];
        if (type.Namespace != s_model || type.IsEnum || !seen.Add(type))
        {
            yield break;
        }

        foreach (var field in FieldsOf(type))
        {
            yield return (type, field.Name);
            var inner = Nullable.GetUnderlyingType(field.PropertyType) ?? ItemType(field.PropertyType) ?? field.PropertyType;
            foreach (var below in Fields(inner, seen))
            {
                yield return below;
            }
        }
    }

    /// <summary>Each change with the field that it was made in.</summary>
    public static IEnumerable<(Type Type, string Field, string How, Session Changed)> Of(Session session) => Object(session).Select(c => (c.Type, c.Field, c.How, (Session)c.Changed));

    private static IEnumerable<(Type Type, string Field, string How, object Changed)> Object(object value)
    {
        foreach (var field in FieldsOf(value.GetType()))
        {
            foreach (var (type, name, how, changed) in Value(value.GetType(), field, field.GetValue(value), field.PropertyType))
            {
                yield return (type, name, how, With(value, field, changed));
            }
        }
    }

    private static IEnumerable<(Type Type, string Field, string How, object? Changed)> Value(Type owner, PropertyInfo field, object? value, Type type)
    {
        if (ItemType(type) is { } item)
        {
            return Items(owner, field, ((IEnumerable)value!).Cast<object>().ToList(), item);
        }

        if (value is not null && value.GetType().Namespace == s_model && !value.GetType().IsEnum)
        {
            // The first change below it is one of the field itself too.
            var below = Object(value).Select(c => (c.Type, c.Field, c.How, (object?)c.Changed)).ToList();
            return Null(type, field) ? [(owner, field.Name, "left out", null), .. below] : [(owner, field.Name, "changed", below[0].Item4), .. below];
        }

        var whole = new List<(Type, string, string, object?)> { (owner, field.Name, "changed", Other(value, type)) };
        if (value is not null && Null(type, field))
        {
            whole.Add((owner, field.Name, "left out", null));
        }

        return whole;
    }

    private static IEnumerable<(Type Type, string Field, string How, object? Changed)> Items(Type owner, PropertyInfo field, List<object> items, Type type)
    {
        var none = items.Count == 0;
        yield return (owner, field.Name, "one more", List(type, [.. items, none ? Other(null, type)! : items[^1]]));
        if (none)
        {
            yield break;
        }

        yield return (owner, field.Name, "one left out", List(type, items[1..]));
        if (items.Count > 1)
        {
            yield return (owner, field.Name, "two changed over", List(type, [items[1], items[0], .. items[2..]]));
        }

        for (var i = 0; i < items.Count; i++)
        {
            var changes = type.Namespace == s_model && !type.IsEnum ? Object(items[i]) : [(owner, field.Name, $"item {i} changed", Other(items[i], type)!)];
            foreach (var (t, f, how, changed) in changes)
            {
                yield return (t, f, how, List(type, [.. items[..i], changed, .. items[(i + 1)..]]));
            }
        }
    }

    /// <summary>Another value of a type that is one value by itself, as near to it as there is.</summary>
    private static object? Other(object? value, Type type) => (Nullable.GetUnderlyingType(type) ?? type) switch
    {
        var t when t == typeof(string) => value + "x",
        var t when t == typeof(bool) => !(bool)value!,
        var t when t == typeof(byte) => (byte)(((byte?)value ?? 0) ^ 1),
        var t when t == typeof(int) => ((int?)value ?? 0) + 1,
        var t when t == typeof(long) => ((long?)value ?? 0) + 1,
        var t when t == typeof(double) => Math.BitIncrement((double?)value ?? 0),
        var t when t.IsEnum => Enum.GetValues(t).Cast<object>().First(v => !v.Equals(value)),
        var t when t == typeof(Rational) => ((Rational?)value ?? Rational.Zero) + new Rational(1, 1_000_000),
        var t when t == typeof(SampleRate) => value!.Equals(SampleRate.Hz44100) ? SampleRate.Hz48000 : SampleRate.Hz44100,
        var t when t == typeof(Timecode) => new Timecode(((Timecode)value!).Frames + 1, ((Timecode)value).Rate),
        var t when t.Namespace == s_model => New(t),
        var t when t == typeof(TempoMap) => new TempoMap([.. ((TempoMap)value!).Points.Select((p, i) => i == 0 ? p with { QuartersPerMinute = p.QuartersPerMinute + new Rational(1, 1_000_000) } : p)]),
        var t when t == typeof(MeterMap) => new MeterMap([.. ((MeterMap)value!).Changes.Select((m, i) => i == 0 ? new MeterChange(m.Bar, m.Beats + 1, m.BeatUnit) : m)]),
        var t => throw new NotSupportedException($"{t.Name} is new in the model: say what another value of it is."),
    };

    /// <summary>An object with no more in it than it must have.</summary>
    private static object New(Type type)
    {
        var made = RuntimeHelpers.GetUninitializedObject(type);
        foreach (var field in FieldsOf(type).Where(f => !f.PropertyType.IsValueType && !Null(f.PropertyType, f)))
        {
            field.SetValue(made, Other(null, field.PropertyType));
        }

        return made;
    }

    private static bool Null(Type type, PropertyInfo field) =>
        Nullable.GetUnderlyingType(type) is not null || (!type.IsValueType && new NullabilityInfoContext().Create(field).ReadState == NullabilityState.Nullable);

    private static Type? ItemType(Type type) => type.IsGenericType && type.GetGenericTypeDefinition() == typeof(ValueArray<>) ? type.GetGenericArguments()[0] : null;

    private static IEnumerable<PropertyInfo> FieldsOf(Type type) => type.GetProperties(BindingFlags.Public | BindingFlags.Instance).Where(p => p.SetMethod is not null);

    private static object List(Type item, IEnumerable<object> items)
    {
        var typed = typeof(Enumerable).GetMethod(nameof(Enumerable.Cast))!.MakeGenericMethod(item).Invoke(null, [items]);
        return typeof(ValueArray).GetMethod(nameof(ValueArray.ToValueArray))!
            .MakeGenericMethod(item).Invoke(null, [typed])!;
    }

    private static object With(object value, PropertyInfo field, object? changed)
    {
        var copy = value.GetType().IsValueType ? value : value.GetType().GetMethod("<Clone>$")!.Invoke(value, null)!;
        field.SetValue(copy, changed);
        return copy;
    }
}
