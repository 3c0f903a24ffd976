using Lyrotrans.Core.Findings;

namespace Lyrotrans.Core.Errors;

/// <summary>An exception whose message is meant for the engineer.</summary>
public interface ISaid
{
    /// <summary>What is told of it: code, place and words.</summary>
    Finding Finding { get; }
}
