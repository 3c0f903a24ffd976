using Lyrotrans.Storage.Model;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Identity.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore;

namespace Lyrotrans.Storage;

/// <summary>The database: accounts, rooms, transfers, revisions, uploads and builds. Media and documents lie in the store.</summary>
public sealed class LyroContext(DbContextOptions<LyroContext> options) : IdentityDbContext<Account, IdentityRole<Guid>, Guid>(options)
{
    public DbSet<Room> Rooms => Set<Room>();

    public DbSet<Transfer> Transfers => Set<Transfer>();

    public DbSet<Revision> Revisions => Set<Revision>();

    public DbSet<IntakeBatch> Batches => Set<IntakeBatch>();

    public DbSet<Upload> Uploads => Set<Upload>();

    public DbSet<PackageBuild> Builds => Set<PackageBuild>();

    protected override void OnModelCreating(ModelBuilder builder)
    {
        base.OnModelCreating(builder);
        builder.Entity<Transfer>().HasIndex(t => t.RoomId);
        builder.Entity<Transfer>().HasOne<Room>().WithMany().HasForeignKey(t => t.RoomId);
        builder.Entity<Revision>().HasIndex(r => new { r.TransferId, r.Number }).IsUnique();
        builder.Entity<IntakeBatch>().HasIndex(b => b.TransferId);
        builder.Entity<IntakeBatch>().HasOne<Transfer>().WithMany().HasForeignKey(b => b.TransferId);
        builder.Entity<PackageBuild>().HasIndex(b => b.TransferId);
        builder.Entity<PackageBuild>().HasOne<Transfer>().WithMany().HasForeignKey(b => b.TransferId);
    }
}
