using System.Text;
using System.Xml;
using System.Xml.Linq;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Wave;

/// <summary>What is looked at in an iXML chunk; what is no XML says nothing.</summary>
/// <param name="Rate">FILE_SAMPLE_RATE.</param>
/// <param name="Umid">FILE_UID where it has the form of a UMID: lower-case hex of 32 bytes.</param>
/// <param name="Channels">Names by channel, from 1.</param>
/// <remarks>docs/formats/sound.md, sections 4 and 5.</remarks>
internal sealed record IxmlWords(SampleRate? Rate, string? Umid, IReadOnlyDictionary<int, string> Channels)
{
    private const int UmidDigits = 64;

    private static IxmlWords None => new(null, null, new Dictionary<int, string>());

    public static IxmlWords Read(byte[] chunk)
    {
        if (chunk.Length == 0)
        {
            return None;
        }

        try
        {
            using var reader = XmlReader.Create(new StringReader(Encoding.UTF8.GetString(chunk).TrimEnd('\0', ' ', '\r', '\n').TrimStart('\uFEFF')), new XmlReaderSettings { DtdProcessing = DtdProcessing.Prohibit, XmlResolver = null });
            var document = XDocument.Load(reader);
            var umid = document.Descendants("FILE_UID").FirstOrDefault()?.Value.Trim().ToLowerInvariant();
            return new IxmlWords(RateWords.Rate(document.Descendants("FILE_SAMPLE_RATE").FirstOrDefault()?.Value), umid?.Length == UmidDigits && umid.All(char.IsAsciiHexDigitLower) ? umid : null, ChannelNames.Of(document));
        }
        catch (XmlException)
        {
            return None;
        }
    }
}
