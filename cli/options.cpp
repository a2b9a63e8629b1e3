#include "cli/options.h"

#include "cli/move_spec.h"

#include <CLI/CLI.hpp>
#include <charconv>
#include <cmath>
#include <sstream>

#include "cli/commands.h"
#include "cli/manual.h"
#include "cli/print.h"
#include "core/base/guard.h"
#include "core/base/version.h"

namespace virga::cli {

namespace {

// A finite number of a range. CLI11's own check lets through what is no number ("nan").
CLI::Validator withinNumbers(double least, double most) {
    return CLI::Validator(
        [least, most](std::string& text) {
            double value = NAN;
            const auto [end, ec] = std::from_chars(text.data(), text.data() + text.size(), value);
            const bool good = ec == std::errc() && end == text.data() + text.size() && value >= least && value <= most;
            return good ? std::string() : fmt::format("\"{}\" is not a number from {} to {}", text, least, most);
        },
        fmt::format("FLOAT in [{} - {}]", least, most));
}

const CLI::Validator isText(
    [](std::string& text) {
        return isUtf8(text) ? std::string() : "\"" + printable(text) + "\" is not text in UTF-8; type it again";
    },
    "TEXT");

// What 'render', 'join' and 'farm' share, so that all three mean the same result.
void addDelivery(CLI::App& command, RenderOptions& o) {
    command.add_option("PROJECT", o.project, "The project file")->required();
    command.add_option("-o,--out", o.out, "The file to write; pictures are numbered: heat.png gives heat_0000.png")
        ->required();
    command.add_option("--format", o.format, "One that 'formats' lists; by the file's ending where not given");
    command.add_option("--preset", o.preset, "A preset's name or file; the options beside it come before it");
    command.add_option("--frames", o.frames, "First and last frame, as A-B, counted from 0; all where not given");
    command.add_option("--size", o.size, "Size in pixels, as WIDTHxHEIGHT; the project's where not given");
    command.add_option("--rate", o.rate, "Frames a second; another than the project's samples the movement anew");
    command.add_option(
        "--quality", o.quality,
        "A level that 'formats' lists, or a number: for H.264 0 lossless, 16 very good (default), 23 good");
    command.add_option("--bits", o.depth, "Bits for each colour, as 'formats' lists them; 8 are dithered")
        ->check(CLI::Range(1, 32));
    command.add_flag("--alpha", o.alpha, "What nothing covers stays transparent, where the format can");
    command.add_option("--sound", o.sound, "aac, opus, pcm16, pcm24 or flac; the format's usual one where not given");
    command
        .add_option("--enlarge", o.enlarging,
                    "How shots are enlarged: soft (bilinear, default), sharp (Catmull-Rom) or sharper (Lanczos)")
        ->check(CLI::IsMember({"soft", "sharp", "sharper"}));
    command.add_flag("--no-sound", o.noSound, "Leave the sound out");
    command.add_flag("--force", o.force,
                     "Replace also sound or lists of another origin that lie where they are written");
    command.add_flag("-q,--quiet", o.quiet, "Show no progress");
}

int runUnguarded(int argc, char** argv) {
    CLI::App app{"Virga from the terminal: makes a cut feel like one continuous camera move.\n"
                 "Exit codes: 0 fine, 1 something breaks, 2 bad input or usage. Messages go to standard error.",
                 "virga-cli"};
    app.require_subcommand(0, 1);
    app.set_version_flag("--version", std::string("virga-cli ") + version());

    bool asManual = false, asCompletion = false;
    app.add_flag("--manual", asManual, "Print the manual page of all commands, for man");
    app.add_flag("--bash-completion", asCompletion, "Print what bash completes commands and options by");
    RenderOptions render;
    auto* renderCommand = app.add_subcommand("render", "Write the reel, or a range of its frames, in any format");
    addDelivery(*renderCommand, render);
    renderCommand->add_option("--chunk", render.chunk, "Only this chunk of it, counted from 0; 'join' joins them")
        ->check(CLI::NonNegativeNumber);
    renderCommand->add_flag("--chunks", render.chunks, "Say how many chunks there are, and render nothing");
    RenderOptions join;
    auto* joinCommand = app.add_subcommand("join", "Join the chunks of a result, and add its sound");
    addDelivery(*joinCommand, join);
    FarmOptions farm;
    auto* farmCommand =
        app.add_subcommand("farm", "Render in chunks on many machines, watch them, and join the result");
    addDelivery(*farmCommand, farm.render);
    farmCommand->add_option("--scheduler", farm.scheduler,
                            "slurm; here (default) for one after the other on this machine; or a file of commands");
    farmCommand->add_option("--options", farm.schedulerOptions, "More words for the scheduler: '--partition=night'");
    farmCommand->add_option("--shared", farm.shared, "A folder that all machines see, beside mounted network folders");
    farmCommand->add_option("--tries", farm.tries, "How often a chunk is tried (default 3)")->check(CLI::Range(1, 100));
    farmCommand->add_option("--every", farm.every, "Seconds between looks (default 2)")
        ->check(withinNumbers(0.1, 3600));
    farmCommand->add_flag("--no-wait", farm.noWait, "Submit, and do not wait for the end");
    PartsOptions parts;
    auto* partsCommand = app.add_subcommand(
        "parts", "Write each cut's moving span as a file, and lists that lay them over the original clips");
    addDelivery(*partsCommand, parts.render);
    partsCommand->add_option("--cuts", parts.cuts, "all (default), or numbers such as 1,3,5");
    partsCommand->add_option("--handles", parts.handles, "Frames beyond the movement on each side (default 12)")
        ->check(CLI::Range(0, 1000));
    RenderOptions data;
    auto* dataCommand = app.add_subcommand(
        "data", "Write the movement of every frame and layer as numbers: matrices, lenses, opacity, times, easings");
    dataCommand->add_option("PROJECT", data.project, "The project file")->required();
    dataCommand->add_option("-o,--out", data.out, "A .json or .csv file")->required();
    dataCommand->add_option("--frames", data.frames,
                            "First and last frame, as A-B, counted from 0; all where not given");
    dataCommand->add_flag("--force", data.force, "Replace OUT even where it is no movement data");
    RenderOptions ladder;
    int ladderCut = 1, ladderFrames = 12, ladderHeight = 90;
    auto* ladderCommand = app.add_subcommand("ladder", "Write the frames around a cut side by side as one PNG");
    ladderCommand->add_option("PROJECT", ladder.project, "The project file")->required();
    ladderCommand->add_option("-o,--out", ladder.out, "A .png file")->required();
    ladderCommand->add_option("--cut", ladderCut, "The cut, counted from 1 (default 1)");
    ladderCommand->add_option("--count", ladderFrames, "How many frames (default 12)")->check(CLI::Range(2, 200));
    ladderCommand->add_option("--height", ladderHeight, "Pixels of a frame (default 90)")->check(CLI::Range(16, 2160));
    bool formatsAsJson = false;
    auto* formatsCommand = app.add_subcommand("formats", "List the formats and presets that can be written");
    formatsCommand->add_flag("--json", formatsAsJson, "As one JSON object");

    ProbeOptions probe;
    auto* probeCommand = app.add_subcommand("probe", "Say what a video, picture or sound file is");
    probeCommand->add_option("FILE", probe.file, "The file")->required();
    probeCommand->add_flag("--json", probe.json, "As one JSON object");

    CheckOptions check;
    auto* checkCommand = app.add_subcommand("check", "Report what breaks the movement at the project's cuts");
    checkCommand->add_option("PROJECT", check.project, "The project file")->required();
    checkCommand->add_flag("--json", check.json, "As one JSON object");
    checkCommand
        ->add_option(
            "--fix", check.fix,
            "Mend it first: 'safe' for what keeps all that was made but the fault; 'curves' to match frames and "
            "curves where only --rate finds a step; or NAME, or NAME=LABEL, a finding's name and one of its "
            "fixes, as --json tells them")
        ->check(isText);
    checkCommand->add_option("--cut", check.cut, "Only at this cut, counted from 1: with --fix NAME")
        ->check(CLI::PositiveNumber);
    checkCommand->add_option("--rate", check.rate,
                             "Judge what a result of this many frames a second shows: 50, 59.94, 60000/1001; the "
                             "project's where not given");
    checkCommand->add_option("--out", check.out, "The project file to write the mended project to");

    checkCommand->add_flag("--pictures", check.pictures,
                           "Look into the files too: frames of another shot at the ends of clips, black bars");

    MakeOptions make;
    auto* makeCommand = app.add_subcommand("make", "Write a project from clips, with the same moves at every cut");
    makeCommand->add_option("OUT", make.out, "The project file to write")->required();
    makeCommand->add_option("CLIP", make.clips, "Video or picture files, in their order")->required();
    makeCommand->add_option("--size", make.size, "Size in pixels, as WIDTHxHEIGHT; the first clip's where not given");
    makeCommand->add_option("--rate", make.rate,
                            "Frames per second: 25, 29.97, 30000/1001; the first clip's where not given");
    makeCommand
        ->add_option("--length", make.length, "Frames of each clip, from its middle; whole clips where not given")
        ->check(CLI::Range(1, 1000000));
    makeCommand
        ->add_option(
            "--move", make.moves,
            "A move at every cut: KIND:START,END|START,END@BEFORE,AFTER with the outgoing side's values, then "
            "the incoming side's, and the\n"
            "frames each takes. KIND is one of " +
                moveNames() +
                "; a side without values stays still: zoom:1,2.5|@5,0. Parameters are those of a new move. May "
                "be given often.")
        ->take_all();
    makeCommand->add_option(
        "--ramp", make.ramp,
        "A ramp of the shots' own speed at every cut, in %: START,END|START,END@BEFORE,AFTER with the "
        "outgoing shot's speeds, then the incoming\nshot's, and the frames each takes; lengths stay: "
        "100,800|800,100@12,12");
    makeCommand->add_option("--between", make.between, "Where slow shots' pictures in between come from")
        ->check(CLI::IsMember({"nearest", "mix", "made-up"}));
    makeCommand->add_option("--edges", make.edges, "What fills the edges")
        ->check(CLI::IsMember({"empty", "hold", "repeat", "mirror"}));
    makeCommand->add_option("--shutter", make.shutter, "Shutter angle in degrees, 0 to 720")
        ->check(withinNumbers(0, 720));
    makeCommand->add_option("--music", make.music, "A sound file under the reel; its beats are found and kept with it");
    const char* const forced = "Replace OUT even where it is a file of another kind";
    makeCommand->add_flag("--force", make.force, forced);

    ConvertOptions convert;
    auto* convertCommand =
        app.add_subcommand("convert", "Between projects (.virga), OpenTimelineIO (.otio) and edit lists (.edl)");
    convertCommand->add_option("IN", convert.in, "The file to read")->required();
    convertCommand->add_option("OUT", convert.out, "The file to write")->required();
    convertCommand->add_option("--rate", convert.rate,
                               "Frames per second of an edit list, which says nothing of it; 25 where not given");
    convertCommand->add_flag("--force", convert.force, forced);

    checkCommand->add_flag("--force", check.force, forced);

    ChainCommand chain;
    auto* chainCommand =
        app.add_subcommand("chain", "Give the cuts of a reel moves that carry on from one to the next");
    chainCommand->add_option("PROJECT", chain.project, "The project file")->required();
    chainCommand->add_option("--out", chain.out, "The project file to write")->required();
    chainCommand->add_option("--seed", chain.seed, "Another number, another plan");
    chainCommand->add_flag("--all", chain.all, "Also for cuts that have moves");
    chainCommand->add_flag("--force", chain.force, forced);

    BeatsCommand beats;
    auto* beatsCommand = app.add_subcommand("beats", "Find the tempo, the beats and the bars of a piece of music");
    beatsCommand->add_option("FILE", beats.file, "The sound file")->required();
    beatsCommand->add_flag("--json", beats.json, "As one JSON object, with every beat");
    beatsCommand->add_option("--into", beats.into,
                             "A project: its music of this file (added where it has none) gets these beats");
    beatsCommand->add_flag("--force", beats.force, "Write them even where they are unsure");

    ProbeOptions cuts;
    auto* cutsCommand = app.add_subcommand("cuts", "Find the cuts of a flat video: picture, time and how sure");
    cutsCommand->add_option("FILE", cuts.file, "The video")->required();
    cutsCommand->add_flag("--json", cuts.json, "As one JSON object");

    TraceCommand trace;
    auto* traceCommand = app.add_subcommand("trace", "Read the movement at a cut of a finished video, as a recipe");
    traceCommand->add_option("VIDEO", trace.file, "The video")->required();
    traceCommand->add_option("--cut", trace.cut, "Which of its cuts, counted from 1")->check(CLI::Range(1, 1000000));
    traceCommand->add_option("--picture", trace.picture, "In place of a cut: the first picture of a shot, from 1 on")
        ->check(CLI::Range(1, 1000000000));
    traceCommand->add_option("--frames", trace.frames, "Frames that are read on each side")->check(CLI::Range(3, 1000));
    traceCommand->add_option("--out", trace.out, "A .virga-recipe file to write");
    traceCommand->add_option("--name", trace.name, "What the recipe is called")->check(isText);
    traceCommand->add_flag("--json", trace.json, "As one JSON object, with what was read of every frame");
    traceCommand->add_flag("--force", trace.force, forced);

    ProbeOptions movement;
    auto* movementCommand =
        app.add_subcommand("movement", "Read how a video's own pictures move, from each to the next");
    movementCommand->add_option("VIDEO", movement.file, "The video")->required();
    movementCommand->add_flag("--json", movement.json, "As one JSON object");

    RecipeOptions recipes;
    auto* recipesCommand =
        app.add_subcommand("recipes", "Moves kept for reuse: list them, show one, use one, keep one");
    recipesCommand->require_subcommand(1);
    auto* listCommand = recipesCommand->add_subcommand("list", "All recipes: built-in ones and your own");
    listCommand->add_flag("--json", recipes.json, "As a JSON list");
    auto* showCommand = recipesCommand->add_subcommand("show", "One recipe as the text of its file");
    showCommand->add_option("RECIPE", recipes.recipe, "Its id, or a .virga-recipe file")->required();
    auto* applyCommand = recipesCommand->add_subcommand("apply", "Put a recipe on cuts of a project");
    applyCommand->add_option("PROJECT", recipes.project, "The project file")->required();
    applyCommand->add_option("RECIPE", recipes.recipe, "Its id, or a .virga-recipe file")->required();
    applyCommand->add_option("--out", recipes.out, "The project file to write")->required();
    applyCommand->add_option("--cuts", recipes.cuts, "Cuts counted from 1, such as 1,3,5; all by default");
    applyCommand->add_option("--every", recipes.every, "Of these only every so-manieth")->check(CLI::Range(1, 1000));
    applyCommand->add_option("--heading", recipes.heading,
                             "left, right, up, down, in, out, clockwise or counter, as far as the recipe can");
    applyCommand->add_option("--strength", recipes.strength, "In %, 5 to 400")->check(withinNumbers(5, 400));
    applyCommand->add_option("--length", recipes.length, "In %, 10 to 1000")->check(withinNumbers(10, 1000));
    applyCommand->add_option("--frames", recipes.frames, "How many frames it passes, where it does")
        ->check(CLI::Range(1, 100));
    applyCommand->add_option("--step", recipes.step, "Frames from shot to shot, where it stacks them")
        ->check(CLI::Range(1, 1000));
    applyCommand->add_flag("--mirrored", recipes.mirrored, "Left and right exchanged");
    applyCommand->add_flag("--backwards", recipes.reversed, "What departs arrives");
    applyCommand->add_flag("--by-time", recipes.byTime, "At another rate as long, not as many frames");
    applyCommand->add_flag("--alternate", recipes.alternate, "Every second one the other way round");
    applyCommand->add_flag("--carry-on", recipes.carryOn, "Each as the cut before it went");
    applyCommand->add_option("--vary", recipes.seed, "Varied by this seed");
    applyCommand->add_flag("--free", recipes.free, "The cuts do not follow the recipe afterwards");
    applyCommand->add_flag("--force", recipes.force, forced);
    auto* saveCommand = recipesCommand->add_subcommand("save", "Keep a cut as a recipe of your own");
    saveCommand->add_option("PROJECT", recipes.project, "The project file")->required();
    saveCommand->add_option("--cut", recipes.cuts, "The cut, counted from 1")->required();
    saveCommand->add_option("--name", recipes.name, "What it is called")->required()->check(isText);
    saveCommand->add_option("--note", recipes.note, "What it is for")->check(isText);
    saveCommand->add_option("--out", recipes.out, "A .virga-recipe file; else it goes into your folder of recipes");
    saveCommand->add_flag("--force", recipes.force, forced);

    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        std::ostringstream out, problem; // with the arguments in it
        const int code = app.exit(error, out, problem);
        writeOut(printableLines(out.str()));
        writeError(printableLines(problem.str()));
        return code == 0 ? Fine : BadInput;
    }
    if (asManual || asCompletion) {
        writeOut(asManual ? manualPage(app) : bashCompletion(app));
        return Fine;
    }
    if (app.get_subcommands().empty()) {
        writeError("virga-cli: a command is missing\n\n" + app.help());
        return BadInput;
    }
    if (*renderCommand) return runRender(render);
    if (*joinCommand) return runJoin(join);
    if (*farmCommand) return runFarm(farm);
    if (*partsCommand) return runParts(parts);
    if (*dataCommand) return runMovementData(data);
    if (*ladderCommand) return runLadder(ladder, ladderCut, ladderFrames, ladderHeight);
    if (*formatsCommand) return runFormats(formatsAsJson);
    if (*probeCommand) return runProbe(probe);
    if (*checkCommand) return runCheck(check);
    if (*chainCommand) return runChain(chain);
    if (*convertCommand) return runConvert(convert);
    if (*beatsCommand) return runBeats(beats);
    if (*cutsCommand) return runCuts(cuts);
    if (*traceCommand) return runTrace(trace);
    if (*movementCommand) return runMovement(movement);
    if (*listCommand) return runRecipeList(recipes);
    if (*showCommand) return runRecipeShow(recipes);
    if (*applyCommand) return runRecipeApply(recipes);
    if (*saveCommand) return runRecipeSave(recipes);
    return runMake(make);
}

} // namespace

int run(int argc, char** argv) {
    const auto code = guarded({}, [&] { return runUnguarded(argc, argv); });
    const int ended = code ? *code : complain(code.error());
    const std::string failure = outputFailure();
    if (failure.empty()) return ended;
    warn("virga-cli: {}; what was written to files is complete\n", failure);
    return BadInput;
}

} // namespace virga::cli
