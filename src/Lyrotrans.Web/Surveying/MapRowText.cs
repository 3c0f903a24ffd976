namespace Lyrotrans.Web.Surveying;

/// <summary>A row of the tempo map sheet as it stands or was typed: <c>tempo</c>, <c>meter</c> or <c>key</c>, its place in bars, its value.</summary>
public sealed record MapRowText(string Kind, string At, string Value, bool Ramp = false);
