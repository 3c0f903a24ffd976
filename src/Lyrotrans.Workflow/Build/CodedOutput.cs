using Lyrotrans.Audio.Files;

namespace Lyrotrans.Workflow.Build;

/// <summary>A coded file that a sound goes into while it is made.</summary>
/// <param name="file">Closed with this.</param>
/// <param name="channels">Of the file; those of the sound that come first.</param>
/// <param name="settle">What is still done to the finished file.</param>
internal sealed class CodedOutput(CodedWriter file, int channels, Action settle) : ISoundOutput
{
    public void Write(double[][] samples, int count) => file.Write(samples[..channels], count);

    public void Finish()
    {
        file.Finish();
        settle();
    }

    public void Dispose() => file.Dispose();
}
