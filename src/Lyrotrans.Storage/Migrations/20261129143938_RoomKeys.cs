using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Lyrotrans.Storage.Migrations
{
    /// <inheritdoc />
    public partial class RoomKeys : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "RoomKeys",
                columns: table => new
                {
                    Id = table.Column<Guid>(type: "uuid", nullable: false),
                    RoomId = table.Column<Guid>(type: "uuid", nullable: false),
                    Public = table.Column<byte[]>(type: "bytea", nullable: false),
                    Secret = table.Column<string>(type: "text", nullable: false),
                    Since = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    Retired = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_RoomKeys", x => x.Id);
                    table.ForeignKey(
                        name: "FK_RoomKeys_Rooms_RoomId",
                        column: x => x.RoomId,
                        principalTable: "Rooms",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_RoomKeys_RoomId",
                table: "RoomKeys",
                column: "RoomId",
                unique: true,
                filter: "\"Retired\" IS NULL");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "RoomKeys");
        }
    }
}
