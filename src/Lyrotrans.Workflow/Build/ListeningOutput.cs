using Lyrotrans.Audio.Files;

namespace Lyrotrans.Workflow.Build;

/// <summary>A coded file that a sound goes into while it is made.</summary>
/// <param name="file">Closed with this.</param>
/// <param name="channels">Of the file; those of the sound that come first.</param>
/// <param name="ogg">The file's path where it is Ogg, whose serial number is settled at its end.</param>
internal sealed class ListeningOutput(CodedWriter file, int channels, string? ogg) : ISoundOutput
{
    public void Write(double[][] samples, int count) => file.Write(samples[..channels], count);

    public void Finish()
    {
        file.Finish();
        if (ogg is not null)
        {
            file.Dispose();
            OggSerial.Settle(ogg);
        }
    }

    public void Dispose() => file.Dispose();
}
