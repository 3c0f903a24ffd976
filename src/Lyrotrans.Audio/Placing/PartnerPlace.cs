namespace Lyrotrans.Audio.Placing;

/// <summary>A sound that another may be of, and where.</summary>
/// <param name="Of">Its number among those that were looked through.</param>
/// <param name="Place">Its sample that the other's first lies on, to an eighth of a millisecond.</param>
/// <param name="Clearness">How far the likeness there stands above that at other places, in standard deviations.</param>
/// <param name="Correlation">Of all stretches together there, or half of that of the one that is most alike, if that is more: 0 to 1.</param>
public readonly record struct PartnerPlace(int Of, double Place, double Clearness, double Correlation);
