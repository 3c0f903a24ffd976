using Lyrotrans.Web.Doors;

namespace Lyrotrans.Web.Tests;

/// <summary>What wrong tries are counted for.</summary>
public sealed class TryOfTests
{
    [Fact]
    public void Two_of_different_kinds_are_never_one_whatever_was_typed()
    {
        var id = Guid.NewGuid();
        TryOf[] all = [TryOf.Account(id), TryOf.Password($"{id}"), TryOf.Letter($"{id}"), TryOf.Password($"account {id}"), TryOf.Password($"letter {id}")];
        Assert.Equal(all.Length, all.Distinct().Count());
    }

    [Fact]
    public void Case_and_space_around_an_address_make_no_other_and_neither_does_an_endless_one()
    {
        Assert.Equal(TryOf.Password("engineer@quillfeather.example"), TryOf.Password(" Engineer@Quillfeather.example "));
        Assert.NotEqual(TryOf.Password("engineer@quillfeather.example"), TryOf.Password("engineer@hall.example"));
        Assert.Equal(TryOf.Letter(new string('a', 400) + "1"), TryOf.Letter(new string('A', 4_000) + "2"));
    }
}
