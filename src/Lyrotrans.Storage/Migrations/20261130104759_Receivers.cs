using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Lyrotrans.Storage.Migrations
{
    /// <inheritdoc />
    public partial class Receivers : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.RenameColumn(
                name: "PreparationSha",
                table: "Revisions",
                newName: "ReceiversSha");

            migrationBuilder.AddColumn<string>(
                name: "ReceiverId",
                table: "Builds",
                type: "text",
                nullable: false,
                defaultValue: "1");

            migrationBuilder.AddColumn<string>(
                name: "ReceiverName",
                table: "Builds",
                type: "text",
                nullable: false,
                defaultValue: "");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "ReceiverId",
                table: "Builds");

            migrationBuilder.DropColumn(
                name: "ReceiverName",
                table: "Builds");

            migrationBuilder.RenameColumn(
                name: "ReceiversSha",
                table: "Revisions",
                newName: "PreparationSha");
        }
    }
}
