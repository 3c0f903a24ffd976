namespace Lyrotrans.Audio.Placing;

/// <summary>A sound that another may be of by its landmarks, and where.</summary>
/// <param name="Of">Its number among those that were looked through.</param>
/// <param name="Place">Its sample that the other's first lies on, to 16 ms.</param>
/// <param name="Votes">How many landmarks lie there.</param>
public readonly record struct LandmarkPlace(int Of, double Place, int Votes);
