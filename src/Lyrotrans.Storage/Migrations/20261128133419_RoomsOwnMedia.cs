using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Lyrotrans.Storage.Migrations
{
    /// <inheritdoc />
    public partial class RoomsOwnMedia : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "DataSteps",
                columns: table => new
                {
                    Name = table.Column<string>(type: "text", nullable: false),
                    At = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_DataSteps", x => x.Name);
                });

            migrationBuilder.CreateTable(
                name: "Memberships",
                columns: table => new
                {
                    RoomId = table.Column<Guid>(type: "uuid", nullable: false),
                    AccountId = table.Column<Guid>(type: "uuid", nullable: false),
                    Since = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Memberships", x => new { x.AccountId, x.RoomId });
                    table.ForeignKey(
                        name: "FK_Memberships_AspNetUsers_AccountId",
                        column: x => x.AccountId,
                        principalTable: "AspNetUsers",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "FK_Memberships_Rooms_RoomId",
                        column: x => x.RoomId,
                        principalTable: "Rooms",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "RoomMedia",
                columns: table => new
                {
                    RoomId = table.Column<Guid>(type: "uuid", nullable: false),
                    Sha256 = table.Column<string>(type: "text", nullable: false),
                    At = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_RoomMedia", x => new { x.RoomId, x.Sha256 });
                    table.ForeignKey(
                        name: "FK_RoomMedia_Rooms_RoomId",
                        column: x => x.RoomId,
                        principalTable: "Rooms",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_Memberships_RoomId",
                table: "Memberships",
                column: "RoomId");

            migrationBuilder.Sql("""INSERT INTO "Memberships" ("AccountId", "RoomId", "Since") SELECT "Id", "RoomId", now() FROM "AspNetUsers" """);

            // What was uploaded; what was unpacked from that, the data step finds in the intakes that unpacked it.
            migrationBuilder.Sql(
                """
                INSERT INTO "RoomMedia" ("RoomId", "Sha256", "At")
                SELECT DISTINCT ON (t."RoomId", u."Sha256") t."RoomId", u."Sha256", u."At"
                FROM "Uploads" u JOIN "Batches" b ON b."Id" = u."BatchId" JOIN "Transfers" t ON t."Id" = b."TransferId"
                WHERE u."Sha256" IS NOT NULL
                """);

            migrationBuilder.DropForeignKey(
                name: "FK_AspNetUsers_Rooms_RoomId",
                table: "AspNetUsers");

            migrationBuilder.DropIndex(
                name: "IX_AspNetUsers_RoomId",
                table: "AspNetUsers");

            migrationBuilder.DropColumn(
                name: "RoomId",
                table: "AspNetUsers");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<Guid>(
                name: "RoomId",
                table: "AspNetUsers",
                type: "uuid",
                nullable: true);

            migrationBuilder.Sql("""UPDATE "AspNetUsers" a SET "RoomId" = (SELECT m."RoomId" FROM "Memberships" m WHERE m."AccountId" = a."Id" ORDER BY m."Since" LIMIT 1)""");
            migrationBuilder.AlterColumn<Guid>(name: "RoomId", table: "AspNetUsers", type: "uuid", nullable: false, oldClrType: typeof(Guid), oldType: "uuid", oldNullable: true);

            migrationBuilder.DropTable(
                name: "DataSteps");

            migrationBuilder.DropTable(
                name: "Memberships");

            migrationBuilder.DropTable(
                name: "RoomMedia");

            migrationBuilder.CreateIndex(
                name: "IX_AspNetUsers_RoomId",
                table: "AspNetUsers",
                column: "RoomId");

            migrationBuilder.AddForeignKey(
                name: "FK_AspNetUsers_Rooms_RoomId",
                table: "AspNetUsers",
                column: "RoomId",
                principalTable: "Rooms",
                principalColumn: "Id",
                onDelete: ReferentialAction.Cascade);
        }
    }
}
