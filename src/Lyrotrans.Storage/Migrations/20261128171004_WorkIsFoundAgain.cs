using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Lyrotrans.Storage.Migrations
{
    /// <inheritdoc />
    public partial class WorkIsFoundAgain : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<int>(
                name: "Attempts",
                table: "Builds",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<string>(
                name: "ErrorCode",
                table: "Builds",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<Guid>(
                name: "Owner",
                table: "Builds",
                type: "uuid",
                nullable: true);

            migrationBuilder.AddColumn<DateTimeOffset>(
                name: "SeenAt",
                table: "Builds",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "Attempts",
                table: "Batches",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<string>(
                name: "ErrorCode",
                table: "Batches",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<Guid>(
                name: "Owner",
                table: "Batches",
                type: "uuid",
                nullable: true);

            migrationBuilder.AddColumn<DateTimeOffset>(
                name: "SeenAt",
                table: "Batches",
                type: "timestamp with time zone",
                nullable: true);

            // Of several that are going, the newest goes on.
            migrationBuilder.Sql("""
                UPDATE "Builds" b SET "State" = 5, "Doing" = 'stopped' WHERE b."State" IN (1, 2)
                    AND EXISTS (SELECT 1 FROM "Builds" o WHERE o."TransferId" = b."TransferId" AND o."State" IN (1, 2) AND (o."At", o."Id") > (b."At", b."Id"))
                """);
            migrationBuilder.CreateIndex(
                name: "IX_Builds_Going",
                table: "Builds",
                column: "TransferId",
                unique: true,
                filter: "\"State\" IN (1, 2)");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "IX_Builds_Going",
                table: "Builds");

            migrationBuilder.DropColumn(
                name: "Attempts",
                table: "Builds");

            migrationBuilder.DropColumn(
                name: "ErrorCode",
                table: "Builds");

            migrationBuilder.DropColumn(
                name: "Owner",
                table: "Builds");

            migrationBuilder.DropColumn(
                name: "SeenAt",
                table: "Builds");

            migrationBuilder.DropColumn(
                name: "Attempts",
                table: "Batches");

            migrationBuilder.DropColumn(
                name: "ErrorCode",
                table: "Batches");

            migrationBuilder.DropColumn(
                name: "Owner",
                table: "Batches");

            migrationBuilder.DropColumn(
                name: "SeenAt",
                table: "Batches");
        }
    }
}
