using Lyrotrans.Core.Findings;

namespace Lyrotrans.Core.Errors;

/// <summary>An exception whose message is meant for the engineer.</summary>
public interface ISaid
{
    Finding Finding { get; }
}
