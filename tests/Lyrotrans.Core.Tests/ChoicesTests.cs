using System.Collections;
using System.Reflection;
using Lyrotrans.Core.Preparing;

namespace Lyrotrans.Core.Tests;

/// <summary>The one table of what options are called.</summary>
public class ChoicesTests
{
    public static TheoryData<string> Lists => new(typeof(Choices).GetProperties(BindingFlags.Static | BindingFlags.Public).Select(p => p.Name));

    [Theory]
    [MemberData(nameof(Lists))]
    public void Every_value_is_there_once_with_an_identifier_and_words_of_its_own(string name)
    {
        var property = typeof(Choices).GetProperty(name)!;
        var values = Enum.GetValues(property.PropertyType.GetGenericArguments()[0]).Cast<object>().ToList();
        var choices = ((IEnumerable)property.GetValue(null)!).Cast<object>().ToList();
        object Of(object choice, string what) => choice.GetType().GetProperty(what)!.GetValue(choice)!;
        Assert.Equal(values.Order(), choices.Select(c => Of(c, "Value")).Order());
        foreach (var what in new[] { "Id", "Words", "Change" })
        {
            Assert.All(choices, c => Assert.NotEqual(string.Empty, Of(c, what)));
            Assert.Equal(choices.Count, choices.Select(c => Of(c, what)).Distinct().Count());
        }
    }

    [Fact]
    public void What_did_not_change_is_not_told()
    {
        Assert.Null(Choices.Pans.Changed(PanForm.Kept, PanForm.Kept));
        Assert.Equal("pan left out", Choices.Pans.Changed(PanForm.Kept, PanForm.LeftOut));
        Assert.Throws<KeyNotFoundException>(() => Choices.Pans[(PanForm)99]);
    }
}
