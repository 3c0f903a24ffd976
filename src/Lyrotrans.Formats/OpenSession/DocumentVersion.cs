namespace Lyrotrans.Formats.OpenSession;

/// <summary>The version that a document of ours carries: older ones are read by their own rules, newer ones are refused.</summary>
public static class DocumentVersion
{
    /// <param name="root">The document.</param>
    /// <param name="property">That says the version; where it is missing, the document is from before there was one, which is the first.</param>
    /// <param name="newest">The newest that this program knows.</param>
    /// <exception cref="Core.Errors.BadInputException">It is newer, or no version.</exception>
    public static int Read(DocumentNode root, string property, int newest)
    {
        if (!root.Has(property))
        {
            return 1;
        }

        var node = root[property];
        return node.Whole(1) is var version && version <= newest
            ? (int)version
            : throw node.Error(DocumentCodes.NewerVersion, $"This has version {version}, and this program knows versions up to {newest}.", "Update the program, or have it written as an older version.");
    }
}
