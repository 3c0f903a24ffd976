namespace Lyrotrans.Web.Desks;

/// <summary>Something that is made when it is first asked for, once, and when it was asked for last.</summary>
internal sealed class KeptDocument(Func<object> make)
{
    private readonly Lazy<object> _value = new(make);

    public object Value => _value.Value;

    public DateTimeOffset Asked { get; set; }
}
