using System.Xml.Linq;
using Microsoft.AspNetCore.DataProtection.XmlEncryption;

namespace Lyrotrans.Web.Keys;

/// <summary>Wraps the keys that data protection makes.</summary>
public sealed class KeyEncryptor(WrappedKeys keys) : IXmlEncryptor
{
    /// <inheritdoc/>
    public EncryptedXmlInfo Encrypt(XElement plaintextElement) => new(keys.Wrap(plaintextElement), typeof(KeyDecryptor));
}
