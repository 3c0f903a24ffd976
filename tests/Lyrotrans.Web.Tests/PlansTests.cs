using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Storage.Model;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Tests.Hosting;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Lyrotrans.Web.Tests;

/// <summary>What pages cost: a revision is planned once, whoever looks at it, and a page that waits plans nothing.</summary>
public sealed class PlansTests(TestApplication application)
{
    private DocumentCache Cache => application.Services.GetRequiredService<DocumentCache>();

    private async Task<(Person Person, Guid Transfer, Guid Room)> PreparedAsync()
    {
        var person = await Person.OpenRoomAsync(application, "Lantern Street");
        var transfer = await person.BeginAsync("Planetarium show");
        await person.BringInAsync(transfer, ("bell.wav", Sounds.Noise(21)), ("horn.wav", Sounds.Noise(22)));
        return (person, transfer, await application.AskAsync(d => d.Transfers.Where(t => t.Id == transfer).Select(t => t.RoomId).SingleAsync()));
    }

    [Fact]
    public async Task An_edit_in_Prepare_makes_one_plan_and_every_page_of_it_after_that_none()
    {
        var (person, transfer, room) = await PreparedAsync();
        await person.Browser.GetStringAsync($"/transfers/{transfer}/prepare");
        var track = (await person.SurveyAsync(transfer)).GetProperty("tracks")[0].GetProperty("id").GetString()!;
        var before = Cache.Made<DeliveryPlan>(room);
        var answer = await person.PostAsync(transfer, "prepare", "Set", ("track", track), ("field", "name"), ("value", "Lantern"));
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
        Assert.Contains("Lantern", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.Equal(before + 1, Cache.Made<DeliveryPlan>(room));
        foreach (var stage in new[] { "intake", "survey", "prepare", "build", "proof", "handover" })
        {
            await person.Browser.GetStringAsync($"/transfers/{transfer}/{stage}");
        }

        Assert.Equal(before + 1, Cache.Made<DeliveryPlan>(room));
    }

    [Fact]
    public async Task A_page_that_waits_plans_nothing_and_opens_no_session()
    {
        var (person, transfer, room) = await PreparedAsync();
        var build = new PackageBuild { Id = Guid.NewGuid(), TransferId = transfer, Revision = 1, By = "nobody", At = DateTimeOffset.UtcNow, State = WorkState.Working, Doing = "at work on it", SeenAt = DateTimeOffset.UtcNow.AddHours(1) };
        var batch = new IntakeBatch { Id = Guid.NewGuid(), TransferId = transfer, At = DateTimeOffset.UtcNow, State = WorkState.Working, Doing = "reading slowly", SeenAt = DateTimeOffset.UtcNow.AddHours(1) };
        await application.AskAsync(async d =>
        {
            d.AddRange(build, batch);
            return await d.SaveChangesAsync();
        });
        var (plans, sessions) = (Cache.Made<DeliveryPlan>(room), Cache.Made<Session>(room));
        for (var i = 0; i < 10; i++)
        {
            Assert.Contains("at work on it", await person.Browser.GetStringAsync($"/transfers/{transfer}/build?handler=State"), StringComparison.Ordinal);
            Assert.Contains("reading slowly", await person.Browser.GetStringAsync($"/transfers/{transfer}/intake?handler=Batches"), StringComparison.Ordinal);
        }

        Assert.Equal((plans, sessions), (Cache.Made<DeliveryPlan>(room), Cache.Made<Session>(room)));
        await application.AskAsync(d => d.Builds.Where(b => b.Id == build.Id).ExecuteUpdateAsync(b => b.SetProperty(x => x.State, WorkState.Failed)));
        Assert.DoesNotContain("at work on it", await person.Browser.GetStringAsync($"/transfers/{transfer}/build?handler=State"), StringComparison.Ordinal);
    }
}
