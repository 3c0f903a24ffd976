using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Lyrotrans.Storage.Migrations
{
    /// <inheritdoc />
    public partial class RoomSheets : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "IX_Builds_Going",
                table: "Builds");

            migrationBuilder.CreateTable(
                name: "RoomSheets",
                columns: table => new
                {
                    Id = table.Column<Guid>(type: "uuid", nullable: false),
                    RoomId = table.Column<Guid>(type: "uuid", nullable: false),
                    Name = table.Column<string>(type: "text", nullable: false),
                    Version = table.Column<int>(type: "integer", nullable: false),
                    Json = table.Column<string>(type: "text", nullable: false),
                    By = table.Column<string>(type: "text", nullable: false),
                    At = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_RoomSheets", x => x.Id);
                    table.ForeignKey(
                        name: "FK_RoomSheets_Rooms_RoomId",
                        column: x => x.RoomId,
                        principalTable: "Rooms",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_Builds_Going",
                table: "Builds",
                columns: new[] { "TransferId", "ReceiverId" },
                unique: true,
                filter: "\"State\" IN (1, 2)");

            migrationBuilder.CreateIndex(
                name: "IX_RoomSheets_RoomId_Name_Version",
                table: "RoomSheets",
                columns: new[] { "RoomId", "Name", "Version" },
                unique: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "RoomSheets");

            migrationBuilder.DropIndex(
                name: "IX_Builds_Going",
                table: "Builds");

            migrationBuilder.CreateIndex(
                name: "IX_Builds_Going",
                table: "Builds",
                column: "TransferId",
                unique: true,
                filter: "\"State\" IN (1, 2)");
        }
    }
}
