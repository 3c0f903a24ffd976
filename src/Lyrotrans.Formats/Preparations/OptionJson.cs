using System.Text.Json;
using System.Text.Json.Nodes;
using Lyrotrans.Core.Options;
using Lyrotrans.Formats.OpenSession;

namespace Lyrotrans.Formats.Preparations;

/// <summary>Options as properties of a JSON object: written, read, and described by JSON Schema (2020-12).</summary>
internal static class OptionJson
{
    /// <summary>The names of their properties, of before as well.</summary>
    public static IEnumerable<string> Names<T>(OptionTable<T> options) => options.SelectMany(o => o is TruthOption<T> { FormerId: { } former } ? [o.Id, former] : new[] { o.Id });

    /// <summary>Writes a property for each option that has a value.</summary>
    public static void Write<T>(Utf8JsonWriter json, OptionTable<T> options, T choices)
    {
        foreach (var option in options)
        {
            switch (option)
            {
                case ChoiceOption<T> choice when choice.Of(choices) != choice.Unsaid:
                    json.WriteString(option.Id, choice.Of(choices));
                    break;
                case TextOption<T> text when text.Of(choices) is { } value:
                    json.WriteString(option.Id, value);
                    break;
                case WholeOption<T> whole when whole.Of(choices) is { } value:
                    json.WriteNumber(option.Id, value);
                    break;
                case NumberOption<T> number:
                    json.WriteNumber(option.Id, number.Of(choices));
                    break;
                case TruthOption<T> truth when truth.Of(choices) || !truth.OnlyTrue:
                    json.WriteBoolean(option.Id, truth.Of(choices));
                    break;
            }
        }
    }

    /// <summary>The choices with what an object says; the rest stays.</summary>
    /// <exception cref="Core.Errors.BadInputException">What is required is missing, or a value is of another kind or not possible; names the path.</exception>
    public static T Read<T>(DocumentNode node, OptionTable<T> options, T choices)
    {
        foreach (var option in options)
        {
            var id = option is TruthOption<T> { FormerId: { } former } && !node.Has(option.Id) && node.Has(former) ? former : option.Id;
            if (option.Required || node.Has(id))
            {
                choices = With(option, choices, node[id]);
            }
        }

        return choices;
    }

    /// <summary>The schema of each option's property, by its name.</summary>
    public static JsonObject Schema<T>(OptionTable<T> options) => new(options.Select(o => KeyValuePair.Create(o.Id, (JsonNode?)Schema(o))));

    /// <summary>The names of those that must be there.</summary>
    public static IEnumerable<string> Required<T>(OptionTable<T> options) => options.Where(o => o.Required).Select(o => o.Id);

    private static T With<T>(Option<T> option, T choices, DocumentNode node) => option switch
    {
        ChoiceOption<T> choice => choice.With(choices, node.OneOf(choice.Values.ToDictionary(v => v.Id, v => v.Id))),
        TextOption<T> text => text.Problem(node.Text()) is { } problem ? throw node.Error(DocumentCodes.BadValue, problem) : text.With(choices, node.Text()),
        WholeOption<T> whole => node.Whole(whole.Least, whole.Most) is var number && whole.Takes(number) ? whole.With(choices, number) : throw node.Error(DocumentCodes.BadValue, $"{number} cannot be; {whole.Range} is expected."),
        NumberOption<T> number => number.With(choices, node.Number()),
        TruthOption<T> truth => truth.With(choices, node.Truth()),
        _ => throw new NotSupportedException($"{option.GetType().Name} has no form in JSON."),
    };

    private static JsonObject Schema<T>(Option<T> option)
    {
        var schema = new JsonObject { ["description"] = option.About };
        switch (option)
        {
            case ChoiceOption<T> choice:
                schema["enum"] = new JsonArray([.. choice.Values.Select(v => JsonValue.Create(v.Id))]);
                break;
            case TextOption<T>:
                schema["type"] = "string";
                break;
            case WholeOption<T> whole:
                if (whole.OnlyOffered)
                {
                    schema["enum"] = new JsonArray([.. whole.Offered.Select(n => JsonValue.Create(n))]);
                    break;
                }

                schema["type"] = "integer";
                Bound(schema, "minimum", whole.Least, long.MinValue);
                Bound(schema, "maximum", whole.Most, long.MaxValue);
                break;
            case NumberOption<T>:
                schema["type"] = "number";
                break;
            case TruthOption<T>:
                schema["type"] = "boolean";
                break;
        }

        return schema;
    }

    private static void Bound(JsonObject schema, string name, long bound, long none)
    {
        if (bound != none)
        {
            schema[name] = bound;
        }
    }
}
