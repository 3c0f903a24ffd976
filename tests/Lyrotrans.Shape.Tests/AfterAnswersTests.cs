namespace Lyrotrans.Shape.Tests;

/// <summary>What is done after an answer shows in no answer's time: the one place for it is <c>Later</c>, never the connection that the answer went over.</summary>
public sealed class AfterAnswersTests
{
    [Fact]
    public void Nothing_is_done_on_a_connection_after_its_answer()
    {
        var pages = Directory.EnumerateFiles(Repository.Path("src", "Lyrotrans.Web"), "*.cs", SearchOption.AllDirectories).Where(f => !f.Contains("/obj/", StringComparison.Ordinal)).ToList();
        Assert.True(pages.Count > 50);
        Assert.DoesNotContain(pages, f => File.ReadAllText(f).Contains("OnCompleted(", StringComparison.Ordinal));
    }
}
