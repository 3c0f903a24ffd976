using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Lyrotrans.Storage.Migrations
{
    /// <inheritdoc />
    public partial class UploadHash : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "Sha256",
                table: "Uploads",
                type: "text",
                nullable: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "Sha256",
                table: "Uploads");
        }
    }
}
