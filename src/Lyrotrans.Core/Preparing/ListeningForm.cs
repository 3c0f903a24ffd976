namespace Lyrotrans.Core.Preparing;

/// <summary>The form of copies that are for listening only.</summary>
public enum ListeningForm
{
    Ogg,
    Mp3,
}
