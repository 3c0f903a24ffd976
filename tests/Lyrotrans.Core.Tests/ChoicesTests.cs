using System.Collections;
using System.Reflection;
using Lyrotrans.Core.Options;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sound;

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
        Assert.Equal(name == nameof(Choices.Encodings) ? [SampleEncoding.Integer16, SampleEncoding.Integer24, SampleEncoding.Integer32, SampleEncoding.Float32] : values.Order(), choices.Select(c => Of(c, "Value")).Order());
        foreach (var what in new[] { "Id", "Words", "Change" })
        {
            Assert.All(choices, c => Assert.NotEqual(string.Empty, Of(c, what)));
            Assert.Equal(choices.Count, choices.Select(c => Of(c, what)).Distinct().Count());
        }
    }

    [Fact]
    public void A_value_that_there_is_not_is_an_error() => Assert.Throws<KeyNotFoundException>(() => Choices.Pans[(PanForm)99]);

    [Fact]
    public void What_did_not_change_is_not_told()
    {
        var before = new MixChoices();
        Assert.Empty(PreparationOptions.Mix.Changes(before, before));
        Assert.Equal(["stems go", "mix through the master"], PreparationOptions.Mix.Changes(before, before with { Stems = true, Master = StemMaster.Through }));
    }

    [Fact]
    public void Options_have_an_identifier_of_their_own_and_say_what_they_are()
    {
        Check(PreparationOptions.Files);
        Check(PreparationOptions.Mix);
        Check(PreparationOptions.Midi);
        Check(PreparationOptions.Click);
        Check(PreparationOptions.Clips);
        Check(PreparationOptions.Track);
        Assert.Throws<KeyNotFoundException>(() => PreparationOptions.Mix["colour"]);
    }

    private static void Check<T>(OptionTable<T> options)
    {
        Assert.NotEmpty(options);
        Assert.Equal(options.Count(), options.Select(o => o.Id).Distinct().Count());
        Assert.All(options, o => Assert.EndsWith(".", o.About, StringComparison.Ordinal));
        Assert.All(options, o => Assert.NotEqual(string.Empty, o.Label));
        Assert.All(options.OfType<WholeOption<T>>(), o => Assert.True(o.Least <= o.Most && (o.MostSeconds > 0) == (o.Unit == WholeUnit.Duration)));
    }
}
