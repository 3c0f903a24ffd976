using System.Xml.Linq;
using Microsoft.AspNetCore.DataProtection.XmlEncryption;

namespace Lyrotrans.Web.Keys;

/// <summary>Opens what <see cref="KeyEncryptor"/> wrapped; data protection makes it by its name in the file.</summary>
public sealed class KeyDecryptor(IServiceProvider services) : IXmlDecryptor
{
    /// <inheritdoc/>
    public XElement Decrypt(XElement encryptedElement) => services.GetRequiredService<WrappedKeys>().Unwrap(encryptedElement);
}
