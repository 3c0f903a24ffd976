using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Options;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Workflow.Editing;
using Microsoft.AspNetCore.Html;
using Microsoft.AspNetCore.Mvc.Rendering;

namespace Lyrotrans.Web.Fields;

/// <summary>The fields of a part of a preparation, made from its options. A field's name is <c>part.option</c>.</summary>
/// <param name="part">The part's name.</param>
/// <param name="options">What can be chosen.</param>
/// <param name="choices">What is shown.</param>
/// <param name="session">For durations and places.</param>
public sealed class OptionFields<T>(string part, OptionTable<T> options, T choices, Session session)
{
    // So many whole numbers are offered as a list.
    private const long MostOffered = 9;

    /// <summary>A field with its label before it, or after it for a box to check.</summary>
    /// <param name="id">Of the option.</param>
    /// <param name="size">Of a typed field, in characters.</param>
    /// <param name="offers">Which values of a choice are offered; none is all.</param>
    /// <param name="otherwise">What an empty field stands for.</param>
    public IHtmlContent Row(string id, int size = 0, Func<string, bool>? offers = null, string? otherwise = null)
    {
        var option = options[id];
        var label = new TagBuilder("label");
        if (IsBox(option))
        {
            label.InnerHtml.AppendHtml(Control(id)).Append(" " + option.Label);
            return label;
        }

        var name = new TagBuilder("span");
        name.InnerHtml.Append(option.Label);
        label.InnerHtml.AppendHtml(name).AppendHtml(Control(id, size, offers, otherwise: otherwise));
        return label;
    }

    /// <summary>A field alone, named for readers of the screen.</summary>
    /// <param name="id">Of the option.</param>
    /// <param name="size">Of a typed field, in characters.</param>
    /// <param name="offers">Which values of a choice are offered; none is all.</param>
    /// <param name="label">What it is called where that is not the option's label.</param>
    /// <param name="otherwise">What an empty field stands for.</param>
    public IHtmlContent Control(string id, int size = 0, Func<string, bool>? offers = null, string? label = null, string? otherwise = null)
    {
        var option = options[id];
        return option switch
        {
            ChoiceOption<T> choice => Select(option, label, choice.Values.Where(v => offers?.Invoke(v.Id) ?? true).Select(v => v.Id == PreparationOptions.AsUsual ? (v.Id, otherwise ?? v.Words) : v)),
            TruthOption<T> { Words: { } words } => Select(option, label, [("false", words.No), ("true", words.Yes)]),
            TruthOption<T> => Box(option),
            WholeOption<T> { Offered.Count: > 0 } whole => Select(option, label, Offered(whole, otherwise)),
            WholeOption<T> { Least: >= 0, Most: <= MostOffered } whole => Select(option, label, Enumerable.Range((int)whole.Least, (int)(whole.Most - whole.Least) + 1).Select(n => (Digits.Grouped(n), Digits.Grouped(n)))),
            _ => Input(option, size, label, otherwise),
        };
    }

    // What stands there already is offered too.
    private IEnumerable<(string Id, string Words)> Offered(WholeOption<T> option, string? otherwise) => option.Offered.Concat(option.Of(choices) is { } chosen ? [chosen] : []).Distinct().Order()
        .Select(n => (n.ToString(System.Globalization.CultureInfo.InvariantCulture), $"{Digits.Grouped(n)} {option.OfferedIn}")).Prepend((string.Empty, otherwise ?? "–"));

    private static bool IsBox(Option<T> option) => option is TruthOption<T> { Words: null };

    private static TagBuilder Option(string id, string words, bool selected)
    {
        var option = new TagBuilder("option");
        option.Attributes["value"] = id;
        if (selected)
        {
            option.Attributes["selected"] = "selected";
        }

        option.InnerHtml.Append(words);
        return option;
    }

    private TagBuilder Select(Option<T> option, string? label, IEnumerable<(string Id, string Words)> values)
    {
        var select = Named("select", option, label);
        var shown = OptionTyping.Shown(option, choices, session);
        foreach (var (id, words) in values)
        {
            select.InnerHtml.AppendHtml(Option(id, words, id == shown));
        }

        return select;
    }

    /// <summary>A box, and what is sent where it is not checked.</summary>
    private HtmlContentBuilder Box(Option<T> option)
    {
        var box = Named("input", option, null);
        box.Attributes["type"] = "checkbox";
        box.Attributes["value"] = "true";
        if (OptionTyping.Shown(option, choices, session) == "true")
        {
            box.Attributes["checked"] = "checked";
        }

        var otherwise = new TagBuilder("input") { TagRenderMode = TagRenderMode.SelfClosing };
        otherwise.Attributes["type"] = "hidden";
        otherwise.Attributes["name"] = $"{part}.{option.Id}";
        otherwise.Attributes["value"] = "false";
        box.TagRenderMode = TagRenderMode.SelfClosing;
        var both = new HtmlContentBuilder();
        both.AppendHtml(box).AppendHtml(otherwise);
        return both;
    }

    private TagBuilder Input(Option<T> option, int size, string? label, string? otherwise)
    {
        var input = Named("input", option, label);
        input.TagRenderMode = TagRenderMode.SelfClosing;
        input.AddCssClass("n");
        input.Attributes["size"] = size.ToString(System.Globalization.CultureInfo.InvariantCulture);
        input.Attributes["value"] = OptionTyping.Shown(option, choices, session);
        input.Attributes["autocomplete"] = "off";
        input.Attributes["placeholder"] = otherwise ?? string.Empty;
        return input;
    }

    private TagBuilder Named(string tag, Option<T> option, string? label)
    {
        var element = new TagBuilder(tag);
        element.Attributes["name"] = $"{part}.{option.Id}";
        element.Attributes["aria-label"] = label ?? option.Label;
        element.Attributes["title"] = option.About;
        return element;
    }
}
