namespace Lyrotrans.Formats.Binary;

/// <summary>Reads small pieces of a file by way of a few megabytes of pages, each place in the file with one place among them.</summary>
internal sealed class PageCache(Stream stream)
{
    private const int PageBytes = 1 << 16;
    private const int Pages = 64;
    private readonly byte[]?[] _pages = new byte[Pages][];
    private readonly long[] _numbers = new long[Pages];
    private readonly int[] _filled = new int[Pages];

    /// <returns>How many bytes there were: fewer than asked for only at the end of the file.</returns>
    public int Read(long offset, Span<byte> into)
    {
        var done = 0;
        while (done < into.Length)
        {
            var page = Page((offset + done) / PageBytes);
            var within = (int)((offset + done) % PageBytes);
            var count = Math.Min(into.Length - done, page.Length - within);
            if (count <= 0)
            {
                break;
            }

            page.Slice(within, count).CopyTo(into[done..]);
            done += count;
        }

        return done;
    }

    private ReadOnlySpan<byte> Page(long number)
    {
        var slot = (int)(number % Pages);
        var page = _pages[slot];
        if (page is null || _numbers[slot] != number)
        {
            page = _pages[slot] ??= new byte[PageBytes];
            stream.Position = number * PageBytes;
            _filled[slot] = stream.ReadAtLeast(page, PageBytes, throwOnEndOfStream: false);
            _numbers[slot] = number;
        }

        return page.AsSpan(0, _filled[slot]);
    }
}
