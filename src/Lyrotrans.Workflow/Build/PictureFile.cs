using Lyrotrans.Audio.Pictures;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Pictures;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Storing;
using Lyrotrans.Workflow.Pictures;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Build;

/// <summary>The reference picture as it goes into a package.</summary>
/// <remarks>docs/formats/picture.md, section 2.</remarks>
internal static class PictureFile
{
    /// <summary>Writes it; what lies in the source beside the picture stays out.</summary>
    /// <param name="plan">What of it.</param>
    /// <param name="files">Where it lies.</param>
    /// <param name="output">Gets it.</param>
    /// <param name="report">Told how far it is made, from 0 to 1.</param>
    /// <param name="stop">Stops between frames.</param>
    /// <exception cref="BadInputException">It is not there, or cannot be made.</exception>
    public static void Write(PicturePlan plan, IMediaFiles files, Stream output, Action<double> report, CancellationToken stop)
    {
        var file = StoredPicture.Find(plan.Source, files) ?? throw new BadInputException(BuildCodes.NotPossible, plan.Source.FileName, string.Empty, "The picture is not there any more.", "Bring it in again, or say that none goes.");
        using var picture = StoredPicture.Open(file, plan.Source.FileName);
        if (GoesAsItLies(plan, picture.Source))
        {
            Copy(file, output, stop);
            return;
        }

        Directory.CreateDirectory(files.Scratch);
        var made = Path.Combine(files.Scratch, $"{Guid.NewGuid():N}{Path.GetExtension(plan.FileName)}");
        try
        {
            File.Create(made).Dispose();
            _ = PictureMaker.Make(picture.Source, plan, made, report, stop);
            using var stream = File.OpenRead(made);
            stream.CopyTo(output);
        }
        finally
        {
            File.Delete(made);
        }
    }

    /// <summary>Whether the file itself goes, byte by byte: nothing of it is left out.</summary>
    public static bool GoesAsItLies(PicturePlan plan, PictureSource source) => plan is { FirstFrame: 0, Form: PictureForm.AsItIs } && source.Facts.Streams.Count == 0;

    private static void Copy(IStoredFile file, Stream output, CancellationToken stop)
    {
        using var stream = file.Open();
        var block = new byte[1 << 20];
        for (int read; (read = stream.Read(block)) > 0;)
        {
            stop.ThrowIfCancellationRequested();
            output.Write(block, 0, read);
        }
    }
}
