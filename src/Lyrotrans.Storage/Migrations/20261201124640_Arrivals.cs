using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Lyrotrans.Storage.Migrations
{
    /// <inheritdoc />
    public partial class Arrivals : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<Guid>(
                name: "CheckId",
                table: "ReturnedFiles",
                type: "uuid",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "ArrivalChecks",
                columns: table => new
                {
                    Id = table.Column<Guid>(type: "uuid", nullable: false),
                    LinkId = table.Column<Guid>(type: "uuid", nullable: false),
                    At = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    What = table.Column<string>(type: "text", nullable: false),
                    IsSame = table.Column<bool>(type: "boolean", nullable: true),
                    Report = table.Column<string>(type: "text", nullable: true),
                    State = table.Column<int>(type: "integer", nullable: false),
                    Fraction = table.Column<double>(type: "double precision", nullable: false),
                    Doing = table.Column<string>(type: "text", nullable: false),
                    Error = table.Column<string>(type: "text", nullable: true),
                    ErrorCode = table.Column<string>(type: "text", nullable: true),
                    StopAsked = table.Column<bool>(type: "boolean", nullable: false),
                    Owner = table.Column<Guid>(type: "uuid", nullable: true),
                    SeenAt = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    Claimed = table.Column<long>(type: "bigint", nullable: false),
                    Attempts = table.Column<int>(type: "integer", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_ArrivalChecks", x => x.Id);
                    table.ForeignKey(
                        name: "FK_ArrivalChecks_Links_LinkId",
                        column: x => x.LinkId,
                        principalTable: "Links",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_ReturnedFiles_CheckId",
                table: "ReturnedFiles",
                column: "CheckId");

            migrationBuilder.CreateIndex(
                name: "IX_ArrivalChecks_Going",
                table: "ArrivalChecks",
                column: "LinkId",
                unique: true,
                filter: "\"State\" IN (0, 1, 2)");

            migrationBuilder.AddForeignKey(
                name: "FK_ReturnedFiles_ArrivalChecks_CheckId",
                table: "ReturnedFiles",
                column: "CheckId",
                principalTable: "ArrivalChecks",
                principalColumn: "Id");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropForeignKey(
                name: "FK_ReturnedFiles_ArrivalChecks_CheckId",
                table: "ReturnedFiles");

            migrationBuilder.DropTable(
                name: "ArrivalChecks");

            migrationBuilder.DropIndex(
                name: "IX_ReturnedFiles_CheckId",
                table: "ReturnedFiles");

            migrationBuilder.DropColumn(
                name: "CheckId",
                table: "ReturnedFiles");
        }
    }
}
