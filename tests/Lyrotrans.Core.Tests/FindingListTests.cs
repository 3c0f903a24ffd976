using Lyrotrans.Core.Findings;

namespace Lyrotrans.Core.Tests;

public class FindingListTests
{
    [Fact]
    public void Each_is_kept_once_in_the_order_it_came()
    {
        FindingList list = [];
        list.Add(FileCodes.CutShort, "byte 1", "One.");
        list.Add(FileCodes.CutShort, "byte 2", "Two.");
        list.Add(FileCodes.CutShort, "byte 1", "One.");
        Assert.Equal(["One.", "Two."], list.Select(f => f.Text));
    }

    [Fact]
    public void What_is_beyond_the_most_is_counted_and_not_lost()
    {
        FindingList list = [];
        list.AddRange(Enumerable.Range(0, FindingList.Most + 7).Select(i => new Finding(FileCodes.CutShort, $"byte {i}", $"Number {i}.")));
        Assert.Equal(FindingList.Most + 1, list.Count());
        Assert.Equal(new Finding(FileCodes.MoreFindings, string.Empty, "More was found 7 times; the first 200 findings are listed."), list.Last());
    }
}
