using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Sessions;

namespace Lyrotrans.Formats.Edits.Chains;

/// <summary>How a chain format says its segments. What they mean together is the same for all of them: <see cref="ChainWalk{T}"/>.</summary>
internal interface IChainFormat<T>
    where T : class
{
    /// <summary>How many things the file holds; what is visited far more often was made to explode.</summary>
    int Entries { get; }

    SegmentKind KindOf(T segment);

    /// <summary>What the format calls a segment, or the operation that it is; for findings.</summary>
    string WordFor(T segment);

    /// <summary>In edit units; never negative.</summary>
    long LengthOf(T segment);

    /// <summary>Edit units a second, where the segment itself says them.</summary>
    Rational? EditRateOf(T segment);

    /// <summary>The parts of a sequence, or the segments of a scope's slots.</summary>
    IEnumerable<T> PartsOf(T segment);

    /// <summary>The sound that goes into an operation, or the first of a group.</summary>
    T? InputOf(T segment);

    T? SelectedOf(T selector);

    IEnumerable<T> AlternatesOf(T selector);

    /// <summary>So many scopes out, and so many slots back from the one that refers.</summary>
    (long Scope, long Slot) ReferenceOf(T reference);

    ChainSource SourceOf(T clip);

    /// <summary>Of a segment of another edit rate: that rate, where in it the sound begins, and where in this one.</summary>
    (Rational InputRate, long InputOffset, long ResultOffset) ConversionOf(T segment);

    /// <summary>Fades that are a clip's own, in samples.</summary>
    (EditFade? In, EditFade? Out) FadesOf(T clip, Rational unit);

    /// <summary>What somebody says of a clip; empty for nothing.</summary>
    string NoteOf(T clip);

    /// <summary>How a transition fades the sound before it out and the one after it in.</summary>
    (EditFade Out, EditFade In) TransitionOf(T transition, Rational length);

    /// <summary>The constant of a gain or a pan, or its points along a length.</summary>
    (double? Constant, EditCurve Points) ParameterOf(T group, Rational length);

    ChainMob<T>? MobOf(string id);

    /// <summary>The medium of a mob that stands for a file.</summary>
    /// <param name="mob">With <see cref="ChainMob{T}.IsFile"/>.</param>
    /// <param name="clipName">What the clip over it is called, where it has no name.</param>
    DocumentMedia MediaOf(ChainMob<T> mob, string? clipName);

    /// <summary>A medium that is referred to and not described.</summary>
    DocumentMedia UnknownMedia(string id, string? clipName);

    /// <summary>Gets what was met and not used.</summary>
    FindingList Findings { get; }
}
