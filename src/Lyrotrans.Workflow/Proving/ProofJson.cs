using System.Text.Json;
using System.Text.Json.Serialization;

namespace Lyrotrans.Workflow.Proving;

/// <summary>How a proof is kept and sent to the screen: −∞ dBFS as text.</summary>
public static class ProofJson
{
    /// <summary>Names in camel case; −∞ as text.</summary>
    public static JsonSerializerOptions Options { get; } = new(JsonSerializerDefaults.Web) { NumberHandling = JsonNumberHandling.AllowNamedFloatingPointLiterals };
}
