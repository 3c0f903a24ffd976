using System.Xml.Linq;

namespace Lyrotrans.Web.Keys;

/// <summary>The folder of data protection's keys.</summary>
public static class KeyRing
{
    private static readonly XNamespace s_protection = "http://schemas.asp.net/2015/03/dataProtection";

    /// <summary>Brings every key under the newest wrapping key: those that lay open, and those under an earlier one. Each file is whole at every moment.</summary>
    /// <returns>How many were brought.</returns>
    /// <exception cref="System.Security.Cryptography.CryptographicException">One is under a key that is not in the settings.</exception>
    public static int BringUnder(string folder, WrappedKeys keys)
    {
        var brought = 0;
        foreach (var file in Directory.EnumerateFiles(folder, "key-*.xml"))
        {
            var document = XDocument.Load(file);
            var changes = 0;
            foreach (var element in document.Descendants().Where(e => (bool?)e.Attribute(s_protection + "requiresEncryption") == true).ToList())
            {
                element.ReplaceWith(Secret(keys.Wrap(element)));
                changes++;
            }

            foreach (var wrapped in document.Descendants("wrapped").Where(w => !keys.IsNewest(w)).ToList())
            {
                wrapped.ReplaceWith(keys.Wrap(keys.Unwrap(wrapped)));
                changes++;
            }

            if (changes > 0)
            {
                document.Save(file + ".part");
                File.Move(file + ".part", file, overwrite: true);
                brought++;
            }
        }

        return brought;
    }

    private static XElement Secret(XElement wrapped) =>
        new(s_protection + "encryptedSecret", new XAttribute("decryptorType", typeof(KeyDecryptor).AssemblyQualifiedName!), wrapped);
}
