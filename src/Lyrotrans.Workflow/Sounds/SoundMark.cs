namespace Lyrotrans.Workflow.Sounds;

/// <summary>A place in a sound file that has a name, in samples of the file; a section where it is a span.</summary>
public sealed record SoundMark(string Text, long Sample, long Length);
