using System.Globalization;

namespace Lyrotrans.Formats.OpenSession;

/// <summary>Where a node lies in a JSON document; put into words only where an error needs them.</summary>
public sealed class DocumentPath
{
    private readonly DocumentPath? _parent;
    private readonly string? _name;
    private readonly int _index;

    private DocumentPath(DocumentPath? parent, string? name, int index)
    {
        _parent = parent;
        _name = name;
        _index = index;
    }

    /// <summary>A property of the object at another path.</summary>
    public DocumentPath(DocumentPath parent, string name)
        : this(parent, name, 0)
    {
    }

    /// <summary>An element of the list at another path.</summary>
    public DocumentPath(DocumentPath parent, int index)
        : this(parent, null, index)
    {
    }

    /// <summary>The whole document.</summary>
    public static DocumentPath Root { get; } = new(null, "$", 0);

    /// <summary>Such as <c>$.tracks[3].name</c>.</summary>
    public override string ToString() => _parent is null
        ? _name!
        : _name is null ? string.Create(CultureInfo.InvariantCulture, $"{_parent}[{_index}]") : $"{_parent}.{_name}";
}
