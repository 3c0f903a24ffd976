namespace Lyrotrans.Workflow.Packing;

/// <summary>Where the files of a package go that is being made: into a zip, into a folder, or beside a package that is there, to be compared with it.</summary>
public interface IPackageOutput
{
    /// <summary>A place for a file of a known size; several are written side by side, from any thread.</summary>
    PackageEntry Reserve(string path, long bytes);

    /// <summary>A file whose size shows when it is written; the next one begins after it is finished.</summary>
    PackageEntry Append(string path);

    /// <summary>Writes what comes after all files.</summary>
    void Finish();
}
