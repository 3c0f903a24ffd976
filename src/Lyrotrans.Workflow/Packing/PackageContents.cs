using System.Text.Json;

namespace Lyrotrans.Workflow.Packing;

/// <summary>The files of a package that lies as files, in their order, so that a zip of them is known to the byte before it is made.</summary>
/// <param name="Made">The date of every entry of the zip.</param>
/// <param name="Files">Each of them.</param>
public sealed record PackageContents(DateTimeOffset Made, IReadOnlyList<PackedFile> Files)
{
    private static readonly JsonSerializerOptions s_options = new(JsonSerializerDefaults.Web);

    /// <summary>The sum of a file, in lower-case hex.</summary>
    /// <exception cref="InvalidOperationException">There is no such file.</exception>
    public string Sha256Of(string path) => Files.Single(f => f.Path == path).Sha256;

    /// <summary>As it is kept: UTF-8 JSON.</summary>
    public byte[] ToJson() => JsonSerializer.SerializeToUtf8Bytes(this, s_options);

    /// <exception cref="InvalidDataException">It is not what <see cref="ToJson"/> wrote.</exception>
    public static PackageContents FromJson(Stream json)
    {
        try
        {
            return JsonSerializer.Deserialize<PackageContents>(json, s_options) is { Files: not null } contents ? contents : throw new InvalidDataException("The list of a package's files is empty.");
        }
        catch (JsonException problem)
        {
            throw new InvalidDataException($"The list of a package's files cannot be read: {problem.Message}", problem);
        }
    }
}
