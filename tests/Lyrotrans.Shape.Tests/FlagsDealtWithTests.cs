using Lyrotrans.Core.Flags;

namespace Lyrotrans.Shape.Tests;

/// <summary>No kind of flag that the demo does not have, and that nobody found, dealt with and saw gone on the real interface.</summary>
public class FlagsDealtWithTests
{
    [Fact]
    public void Every_kind_of_flag_is_named_by_the_browser_tests_that_deal_with_all_of_them()
    {
        var tests = string.Concat(new[] { "flags", "odd" }.Select(f => File.ReadAllText(Repository.Path($"tests/browser/{f}.test.mjs"))));
        Assert.All(FlagKinds.All, k => Assert.Contains($"\"{k.Code}\"", tests, StringComparison.Ordinal));
    }
}
