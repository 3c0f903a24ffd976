using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Lyrotrans.Storage.Migrations
{
    /// <inheritdoc />
    public partial class FollowUps : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<Guid>(
                name: "FollowsId",
                table: "Builds",
                type: "uuid",
                nullable: true);

            migrationBuilder.CreateIndex(
                name: "IX_Builds_FollowsId",
                table: "Builds",
                column: "FollowsId");

            migrationBuilder.AddForeignKey(
                name: "FK_Builds_Builds_FollowsId",
                table: "Builds",
                column: "FollowsId",
                principalTable: "Builds",
                principalColumn: "Id");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropForeignKey(
                name: "FK_Builds_Builds_FollowsId",
                table: "Builds");

            migrationBuilder.DropIndex(
                name: "IX_Builds_FollowsId",
                table: "Builds");

            migrationBuilder.DropColumn(
                name: "FollowsId",
                table: "Builds");
        }
    }
}
