using System.Collections;
using System.Collections.Concurrent;
using System.Globalization;
using System.Reflection;
using System.Text;

namespace Lyrotrans.Core.Proof;

/// <summary>
/// Every difference between two values of the model, field by field, of all fields that its types declare: one that is added tomorrow is compared without anybody
/// thinking of it.
/// </summary>
/// <param name="leftOut">Whether a field is compared elsewhere, or not at all.</param>
public sealed class ValueDifferences(Func<Type, string, bool> leftOut)
{
    private const int MostShown = 8;
    private static readonly ConcurrentDictionary<Type, PropertyInfo[]> s_fields = new();

    /// <summary>The fields of a type that make up its value; none for a type that is one value by itself.</summary>
    public static IReadOnlyList<PropertyInfo> FieldsOf(Type type) => s_fields.GetOrAdd(type, t => !IsOfTheModel(t) ? [] :
        [.. t.GetProperties(BindingFlags.Public | BindingFlags.Instance).Where(p => p.CanWrite && p.GetIndexParameters().Length == 0)]);

    /// <param name="where">What the two are, for words.</param>
    /// <param name="meant">The one.</param>
    /// <param name="found">The other.</param>
    /// <returns>Where, which field, and both its values in words.</returns>
    public IEnumerable<(string Where, string What, string Meant, string Found)> Between(string where, object meant, object found)
    {
        if (meant.Equals(found))
        {
            return [];
        }

        return FieldsOf(meant.GetType()).Where(f => !leftOut(meant.GetType(), f.Name)).SelectMany(f => Field(where, Words(f.Name), f.GetValue(meant), f.GetValue(found)));
    }

    private IEnumerable<(string Where, string What, string Meant, string Found)> Field(string where, string what, object? meant, object? found)
    {
        if (Equals(meant, found))
        {
            return [];
        }

        if (meant is null || found is null || meant is string || (FieldsOf(meant.GetType()).Count == 0 && meant is not IEnumerable))
        {
            return [(where, what, Text(meant), Text(found))];
        }

        if (meant is IEnumerable some)
        {
            var (a, b) = (some.Cast<object>().ToList(), ((IEnumerable)found).Cast<object>().ToList());
            return a.Count != b.Count || a.Count == 0 || FieldsOf(a[0].GetType()).Count == 0
                ? [(where, what, Text(meant), Text(found))]
                : a.Zip(b).SelectMany((pair, i) => Between($"{where}, {what} {i + 1}", pair.First, pair.Second));
        }

        return Between($"{where}, {what}", meant, found);
    }

    private static bool IsOfTheModel(Type type) => type.Namespace == typeof(Sessions.Session).Namespace && !type.IsEnum;

    private static string Text(object? value) => value switch
    {
        null => "none",
        string text => text.Length == 0 ? "empty" : text,
        bool truth => truth ? "yes" : "no",
        IFormattable number => number.ToString(null, CultureInfo.InvariantCulture),
        IEnumerable items => Text(items.Cast<object>().ToList()),
        _ => value.ToString() ?? string.Empty,
    };

    private static string Text(List<object> items) =>
        items.Count == 0 ? "none" : items.Count > MostShown ? $"{items.Count}: {string.Join(", ", items.Take(MostShown).Select(Text))}, …" : string.Join(", ", items.Select(Text));

    /// <summary>A field's name in words: <c>SoundingLane</c> is "sounding lane".</summary>
    public static string Words(string field)
    {
        var words = new StringBuilder();
        foreach (var letter in field)
        {
            words.Append(char.IsUpper(letter) && words.Length > 0 ? " " : string.Empty).Append(char.ToLowerInvariant(letter));
        }

        return words.ToString();
    }
}
