namespace Lyrotrans.Storage.Model;

/// <summary>How far long work is.</summary>
public enum WorkState
{
    Receiving,
    Waiting,
    Working,
    Done,
    Failed,
    Stopped,
}
