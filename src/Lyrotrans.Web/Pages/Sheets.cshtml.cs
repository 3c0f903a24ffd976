using System.Net.Mime;
using System.Text;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Storing;
using Lyrotrans.Files;
using Lyrotrans.Formats.Preparations;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Rooms;
using Lyrotrans.Web.Desks;
using Lyrotrans.Web.Sheets;
using Lyrotrans.Workflow.Learning;
using Microsoft.AspNetCore.Mvc;

namespace Lyrotrans.Web.Pages;

/// <summary>The receiver sheets of the engineer's rooms with their history, and those that came with the program: as files out and in.</summary>
[RequestSizeLimit(MostBytes)]
[RequestFormLimits(MultipartBodyLengthLimit = MostBytes)]
public sealed class SheetsModel(DeskLoader desks, RoomAccess access, SheetShelf shelf) : PersonPage(desks, access)
{
    private const int MostFiles = 50;
    private const long MostBytes = 512L << 20;

    /// <summary>Every state of every sheet of the rooms, the newest of each first.</summary>
    public IReadOnlyList<RoomSheet> Kept { get; private set; } = [];

    /// <summary>What files of the receiving side showed; null where none were given.</summary>
    public LearntSheet? Learnt { get; private set; }

    /// <summary>What somebody typed, where it was refused; or what was learnt.</summary>
    public string Typed { get; private set; } = string.Empty;

    public Task OnGetAsync(CancellationToken stop) => LoadAsync(stop);

    /// <summary>A sheet as a file.</summary>
    public async Task<IActionResult> OnGetJsonAsync(string key, CancellationToken stop)
    {
        await LoadAsync(stop);
        var (name, json) = Kept.Where(s => $"{s.Id}" == key && s.Json.Length > 0).Select(s => (s.Name, s.Json))
            .Concat(ShippedSheets.All.Select((s, i) => (Key: $"{i + 1}", s)).Where(s => s.Key == key).Select(s => (s.s.Sheet.Terms!.Name, s.s.Json))).FirstOrDefault();
        return json is null ? NotFound() : File(Encoding.UTF8.GetBytes(json), MediaTypeNames.Application.Json, $"{LegalName.From(name)}.json");
    }

    /// <summary>Keeps a sheet that was typed, or sent as a file.</summary>
    public async Task<IActionResult> OnPostAsync(Guid room, string? json, IFormFile? file, CancellationToken stop)
    {
        if (Rooms.All(r => r.Id != room))
        {
            return NotFound();
        }

        try
        {
            Typed = file is null ? json ?? string.Empty : await ReadAsync(file, stop);
            await shelf.KeepAsync(room, Typed, file?.FileName ?? "the sheet", Engineer.Name, stop);
            return RedirectToPage();
        }
        catch (BadInputException problem)
        {
            ModelState.AddModelError(string.Empty, HiddenMarks.Shown(problem.Message));
            await LoadAsync(stop);
            return Page();
        }
    }

    /// <summary>Proposes a sheet from files that the receiving side wrote, to be looked at and kept.</summary>
    public async Task<IActionResult> OnPostLearnAsync(string? name, List<IFormFile> files, CancellationToken stop)
    {
        var folder = Directory.CreateTempSubdirectory("lyro-learn-").FullName;
        try
        {
            var kept = new List<(IStoredFile File, string Name)>();
            if (files.Count > MostFiles)
            {
                throw new BadInputException(SheetCodes.TooManyFiles, "the files", string.Empty, $"There are {files.Count}, and a sheet is learnt from {MostFiles} at most.", "Choose some of them.");
            }

            foreach (var file in files)
            {
                var path = Path.Combine(folder, $"{kept.Count}");
                await using var copy = System.IO.File.Create(path);
                await file.CopyToAsync(copy, stop);
                kept.Add((new DiskFile(path), Path.GetFileName(file.FileName)));
            }

            if (kept.Count == 0)
            {
                throw new BadInputException(LearningCodes.NothingToLearn, "the files", string.Empty, "There is none.", "Choose some that the receiving side wrote.");
            }

            Learnt = await Task.Run(() => SheetLearning.Learn(string.IsNullOrWhiteSpace(name) ? "Learnt" : name.Trim(), kept), stop);
            Typed = Learnt.Json;
        }
        catch (BadInputException problem)
        {
            ModelState.AddModelError(string.Empty, HiddenMarks.Shown(problem.Message));
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }

        await LoadAsync(stop);
        return Page();
    }

    /// <summary>Puts a sheet away; its history stays.</summary>
    public async Task<IActionResult> OnPostAwayAsync(Guid room, string name, CancellationToken stop)
    {
        if (Rooms.All(r => r.Id != room))
        {
            return NotFound();
        }

        await shelf.PutAwayAsync(room, name, Engineer.Name, stop);
        return RedirectToPage();
    }

    private static async Task<string> ReadAsync(IFormFile file, CancellationToken stop)
    {
        using var reader = new StreamReader(file.OpenReadStream(), Encoding.UTF8);
        var letters = new char[SheetShelf.MostLetters + 1];
        return new string(letters, 0, await reader.ReadBlockAsync(letters, stop));
    }

    private async Task LoadAsync(CancellationToken stop) => Kept = await shelf.HistoryAsync([.. Rooms.Select(r => r.Id)], stop);
}
