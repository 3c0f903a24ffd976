namespace Lyrotrans.Storage.Revisions;

/// <summary>The three documents of a revision, as bytes.</summary>
public sealed record RevisionDocuments(byte[] Intake, byte[] Session, byte[] Receivers);
