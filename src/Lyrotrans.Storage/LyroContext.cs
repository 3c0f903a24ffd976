using Lyrotrans.Storage.Model;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Identity.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Storage;

/// <summary>The database: accounts, rooms with their members and media, transfers, revisions, uploads, builds and links. The bytes of media and documents lie in the store.</summary>
public sealed class LyroContext(DbContextOptions<LyroContext> options) : IdentityDbContext<Account, IdentityRole<Guid>, Guid>(options)
{
    /// <summary>Studios, halls and whoever else shares transfers.</summary>
    public DbSet<Room> Rooms => Set<Room>();

    /// <summary>Who is in which room.</summary>
    public DbSet<Membership> Memberships => Set<Membership>();

    /// <summary>Which room brought in which bytes.</summary>
    public DbSet<RoomMedium> RoomMedia => Set<RoomMedium>();

    /// <summary>Changes of older data that were made.</summary>
    public DbSet<DataStep> DataSteps => Set<DataStep>();

    /// <summary>Sessions on their way.</summary>
    public DbSet<Transfer> Transfers => Set<Transfer>();

    /// <summary>States of transfers.</summary>
    public DbSet<Revision> Revisions => Set<Revision>();

    /// <summary>Files that were dropped together.</summary>
    public DbSet<IntakeBatch> Batches => Set<IntakeBatch>();

    /// <summary>Files that arrive or have arrived.</summary>
    public DbSet<Upload> Uploads => Set<Upload>();

    /// <summary>Packages that are built or were.</summary>
    public DbSet<PackageBuild> Builds => Set<PackageBuild>();

    /// <summary>Who is signed in where.</summary>
    public DbSet<SignIn> SignIns => Set<SignIn>();

    /// <summary>The rooms' logs.</summary>
    public DbSet<RoomEvent> RoomEvents => Set<RoomEvent>();

    /// <summary>The keys that rooms sign with.</summary>
    public DbSet<RoomKey> RoomKeys => Set<RoomKey>();

    /// <summary>The receiver sheets that rooms keep, with their history.</summary>
    public DbSet<RoomSheet> RoomSheets => Set<RoomSheet>();

    /// <summary>Links that open packages to receivers.</summary>
    public DbSet<PackageLink> Links => Set<PackageLink>();

    /// <summary>Who fetched packages by links.</summary>
    public DbSet<LinkClaim> LinkClaims => Set<LinkClaim>();

    /// <summary>What happened at links.</summary>
    public DbSet<LinkEvent> LinkEvents => Set<LinkEvent>();

    /// <summary>Files that came back by links.</summary>
    public DbSet<ReturnedFile> ReturnedFiles => Set<ReturnedFile>();

    /// <summary>What receivers exported again, held to what was sent.</summary>
    public DbSet<ArrivalCheck> ArrivalChecks => Set<ArrivalCheck>();

    /// <summary>Files that came back, held by their sound to what was sent.</summary>
    public DbSet<ReturnCheck> ReturnChecks => Set<ReturnCheck>();

    /// <summary>Packages that were read back as their receivers would read them.</summary>
    public DbSet<RehearsalRun> RehearsalRuns => Set<RehearsalRun>();

    /// <summary>Packages in folders of the server.</summary>
    public DbSet<FolderDelivery> FolderDeliveries => Set<FolderDelivery>();

    /// <summary>What people said of files that they listened to.</summary>
    public DbSet<HeardMark> HeardMarks => Set<HeardMark>();

    protected override void OnModelCreating(ModelBuilder builder)
    {
        base.OnModelCreating(builder);
        builder.Entity<Membership>().HasKey(m => new { m.AccountId, m.RoomId });
        builder.Entity<Membership>().HasOne<Room>().WithMany().HasForeignKey(m => m.RoomId);
        builder.Entity<Membership>().HasOne<Account>().WithMany().HasForeignKey(m => m.AccountId);
        builder.Entity<RoomMedium>().HasKey(m => new { m.RoomId, m.Sha256 });
        builder.Entity<RoomMedium>().HasOne<Room>().WithMany().HasForeignKey(m => m.RoomId);
        builder.Entity<SignIn>().HasIndex(s => s.AccountId);
        builder.Entity<SignIn>().HasOne<Account>().WithMany().HasForeignKey(s => s.AccountId);
        builder.Entity<RoomEvent>().HasIndex(e => new { e.RoomId, e.Id });
        builder.Entity<RoomEvent>().HasOne<Room>().WithMany().HasForeignKey(e => e.RoomId);
        builder.Entity<RoomKey>().HasIndex(k => k.RoomId).IsUnique().HasFilter("\"Retired\" IS NULL");
        builder.Entity<RoomKey>().HasOne<Room>().WithMany().HasForeignKey(k => k.RoomId);
        builder.Entity<RoomSheet>().HasIndex(s => new { s.RoomId, s.Name, s.Version }).IsUnique();
        builder.Entity<RoomSheet>().HasOne<Room>().WithMany().HasForeignKey(s => s.RoomId);
        builder.Entity<DataStep>().HasKey(s => s.Name);
        builder.Entity<Transfer>().HasIndex(t => t.RoomId);
        builder.Entity<Transfer>().HasOne<Room>().WithMany().HasForeignKey(t => t.RoomId);
        builder.Entity<Revision>().HasIndex(r => new { r.TransferId, r.Number }).IsUnique();
        builder.Entity<IntakeBatch>().HasIndex(b => b.TransferId);
        builder.Entity<IntakeBatch>().HasOne<Transfer>().WithMany().HasForeignKey(b => b.TransferId);
        builder.Entity<PackageBuild>().HasIndex(b => b.TransferId);

        // However often somebody asks, one build for a receiver is waiting or at work.
        builder.Entity<PackageBuild>().HasIndex(["TransferId", "ReceiverId"], "IX_Builds_Going").IsUnique().HasFilter($"\"State\" IN ({(int)WorkState.Waiting}, {(int)WorkState.Working})");
        builder.Entity<PackageLink>().HasIndex(l => l.TokenSha256).IsUnique();
        builder.Entity<PackageLink>().HasIndex(l => l.BuildId);
        builder.Entity<PackageLink>().HasOne<PackageBuild>().WithMany().HasForeignKey(l => l.BuildId);
        builder.Entity<LinkClaim>().HasIndex(c => new { c.LinkId, c.Claimant });
        builder.Entity<LinkClaim>().HasOne<PackageLink>().WithMany().HasForeignKey(c => c.LinkId);
        builder.Entity<LinkEvent>().HasIndex(e => new { e.LinkId, e.Id });
        builder.Entity<LinkEvent>().HasOne<PackageLink>().WithMany().HasForeignKey(e => e.LinkId);
        builder.Entity<ReturnedFile>().HasIndex(f => f.LinkId);
        builder.Entity<ReturnedFile>().HasOne<PackageLink>().WithMany().HasForeignKey(f => f.LinkId);
        builder.Entity<ReturnedFile>().HasOne<ArrivalCheck>().WithMany().HasForeignKey(f => f.CheckId);
        builder.Entity<ArrivalCheck>().HasOne<PackageLink>().WithMany().HasForeignKey(c => c.LinkId);

        // However often a page asks, one comparison of a link is on its way.
        builder.Entity<ArrivalCheck>().HasIndex(c => c.LinkId, "IX_ArrivalChecks_Going").IsUnique().HasFilter($"\"State\" IN ({(int)WorkState.Receiving}, {(int)WorkState.Waiting}, {(int)WorkState.Working})");
        builder.Entity<ReturnCheck>().HasOne<PackageLink>().WithMany().HasForeignKey(c => c.LinkId);
        builder.Entity<ReturnCheck>().HasIndex(c => c.LinkId, "IX_ReturnChecks_Going").IsUnique().HasFilter($"\"State\" IN ({(int)WorkState.Waiting}, {(int)WorkState.Working})");
        builder.Entity<RehearsalRun>().HasIndex(r => new { r.BuildId, r.At });
        builder.Entity<RehearsalRun>().HasOne<PackageBuild>().WithMany().HasForeignKey(r => r.BuildId);
        builder.Entity<RehearsalRun>().HasIndex(r => r.BuildId, "IX_RehearsalRuns_Going").IsUnique().HasFilter($"\"State\" IN ({(int)WorkState.Waiting}, {(int)WorkState.Working})");
        builder.Entity<FolderDelivery>().HasIndex(d => d.BuildId);
        builder.Entity<FolderDelivery>().HasOne<PackageBuild>().WithMany().HasForeignKey(d => d.BuildId);
        builder.Entity<HeardMark>().HasIndex(m => m.BuildId);
        builder.Entity<HeardMark>().HasOne<PackageBuild>().WithMany().HasForeignKey(m => m.BuildId);
        builder.Entity<PackageBuild>().HasOne<Transfer>().WithMany().HasForeignKey(b => b.TransferId);
        builder.Entity<PackageBuild>().HasOne<PackageBuild>().WithMany().HasForeignKey(b => b.FollowsId);
    }
}
