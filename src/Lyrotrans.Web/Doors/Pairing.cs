using QRCoder;

namespace Lyrotrans.Web.Doors;

/// <summary>What an authenticator takes over once: a key, and the picture that says it.</summary>
/// <param name="Key">In base 32, in groups of four.</param>
/// <param name="Picture">An SVG of two-dimensional code.</param>
public sealed record Pairing(string Key, string Picture)
{
    /// <summary>Of a key of 160 bits in base 32.</summary>
    public static Pairing Of(string key, string address)
    {
        var link = $"otpauth://totp/Lyrotrans:{Uri.EscapeDataString(address)}?secret={key}&issuer=Lyrotrans&digits=6";
        using var code = QRCodeGenerator.GenerateQrCode(link, QRCodeGenerator.ECCLevel.M);
        using var picture = new SvgQRCode(code);
        return new Pairing(string.Join(' ', key.Chunk(4).Select(g => new string(g))), picture.GetGraphic(4, "#000000", "#ffffff", sizingMode: SvgQRCode.SizingMode.ViewBoxAttribute));
    }
}
