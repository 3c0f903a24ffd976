using Lyrotrans.Core.Mapping;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Web.Surveying;

/// <summary>What a drafted map would look like and do, for the chart and for the choice of what stays.</summary>
public static class MapPreview
{
    public static object Of(Session session, MusicMap map)
    {
        var stays = MapChange.Measure(session, map, new Anchors(Anchor.Samples, Anchor.Samples, Anchor.Samples));
        var follows = MapChange.Measure(session, map, new Anchors(Anchor.Quarters, Anchor.Quarters, Anchor.Quarters));
        var drawn = session with { Tempo = map.Tempo, Meters = map.Meters, Keys = map.Keys, Bar1Sample = map.Bar1Sample };
        return new
        {
            bar1 = map.Bar1Sample,
            tempo = SurveyData.Tempo(drawn),
            meters = SurveyData.Meters(drawn),
            bars = SurveyData.Bars(drawn, Math.Max(session.EndSample, session.Rate.HeaderHz)),
            same = map == MusicMap.Of(session),
            samples = stays,
            quarters = follows,
        };
    }
}
