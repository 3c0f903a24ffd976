using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Lyrotrans.Storage.Migrations
{
    /// <inheritdoc />
    public partial class RoomMediaBytes : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<long>(
                name: "Bytes",
                table: "RoomMedia",
                type: "bigint",
                nullable: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "Bytes",
                table: "RoomMedia");
        }
    }
}
