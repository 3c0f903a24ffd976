using System.Runtime.InteropServices;

namespace Lyrotrans.Audio.Native;

/// <summary>The few calls of libfluidsynth that are used here.</summary>
internal static partial class FluidSynth
{
    public const string Package = "libfluidsynth3";

    /// <summary>Samples between which it takes events.</summary>
    public const int BufferSize = 64;

    private const string Library = "libfluidsynth.so.3";

    [LibraryImport(Library, EntryPoint = "fluid_version_str")]
    public static partial nint Version();

    [LibraryImport(Library, EntryPoint = "new_fluid_settings")]
    public static partial nint NewSettings();

    [LibraryImport(Library, EntryPoint = "delete_fluid_settings")]
    public static partial void DeleteSettings(nint settings);

    [LibraryImport(Library, EntryPoint = "fluid_settings_setnum", StringMarshalling = StringMarshalling.Utf8)]
    public static partial int SetNumber(nint settings, string name, double value);

    [LibraryImport(Library, EntryPoint = "fluid_settings_setint", StringMarshalling = StringMarshalling.Utf8)]
    public static partial int SetInteger(nint settings, string name, int value);

    [LibraryImport(Library, EntryPoint = "new_fluid_synth")]
    public static partial nint NewSynth(nint settings);

    [LibraryImport(Library, EntryPoint = "delete_fluid_synth")]
    public static partial void DeleteSynth(nint synth);

    [LibraryImport(Library, EntryPoint = "fluid_synth_sfload", StringMarshalling = StringMarshalling.Utf8)]
    public static partial int Load(nint synth, string path, int resetPresets);

    [LibraryImport(Library, EntryPoint = "fluid_synth_system_reset")]
    public static partial int Reset(nint synth);

    [LibraryImport(Library, EntryPoint = "fluid_synth_noteon")]
    public static partial int NoteOn(nint synth, int channel, int key, int velocity);

    [LibraryImport(Library, EntryPoint = "fluid_synth_noteoff")]
    public static partial int NoteOff(nint synth, int channel, int key);

    [LibraryImport(Library, EntryPoint = "fluid_synth_cc")]
    public static partial int Controller(nint synth, int channel, int number, int value);

    [LibraryImport(Library, EntryPoint = "fluid_synth_program_change")]
    public static partial int Program(nint synth, int channel, int program);

    [LibraryImport(Library, EntryPoint = "fluid_synth_pitch_bend")]
    public static partial int Bend(nint synth, int channel, int value);

    [LibraryImport(Library, EntryPoint = "fluid_synth_channel_pressure")]
    public static partial int ChannelPressure(nint synth, int channel, int value);

    [LibraryImport(Library, EntryPoint = "fluid_synth_key_pressure")]
    public static partial int KeyPressure(nint synth, int channel, int key, int value);

    [LibraryImport(Library, EntryPoint = "fluid_synth_get_active_voice_count")]
    public static partial int ActiveVoices(nint synth);

    [LibraryImport(Library, EntryPoint = "fluid_synth_write_float")]
    public static unsafe partial int WriteFloat(nint synth, int count, float* left, int leftOffset, int leftStep, float* right, int rightOffset, int rightStep);

    [LibraryImport(Library, EntryPoint = "fluid_set_log_function")]
    public static partial nint SetLog(int level, nint function, nint data);
}
