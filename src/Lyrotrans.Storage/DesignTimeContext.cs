using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Design;

namespace Lyrotrans.Storage;

/// <summary>For the migrations tool, which needs a context without an application.</summary>
public sealed class DesignTimeContext : IDesignTimeDbContextFactory<LyroContext>
{
    public LyroContext CreateDbContext(string[] args) =>
        new(new DbContextOptionsBuilder<LyroContext>().UseNpgsql("Host=127.0.0.1;Database=lyrotrans").Options);
}
