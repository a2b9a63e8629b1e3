#include "cli/manual.h"

#include <CLI/CLI.hpp>
#include <fmt/format.h>

#include "core/base/roff.h"

namespace virga::cli {

namespace {

bool isOwn(const CLI::Option& option) {
    return option.get_name(false, true).find("--help") == std::string::npos;
}

std::string optionText(const CLI::App& command) {
    std::string text;
    for (const CLI::Option* o : command.get_options()) {
        if (!isOwn(*o)) continue;
        const bool value = o->get_items_expected_max() > 0;
        const std::string name = o->get_name(o->get_positional(), true);
        text += fmt::format(".TP\n.B {}{}\n{}\n", roff(name),
                            value && !o->get_positional() ? " \\fI" + roff(o->get_type_name()) + "\\fP" : "",
                            roff(o->get_description()));
    }
    return text;
}

// Commands with commands of their own are told one by one.
void addCommand(const CLI::App& command, const std::string& before, std::string& text) {
    const std::string name = before + command.get_name();
    const auto inner = command.get_subcommands([](const CLI::App*) { return true; });
    if (inner.empty()) {
        text +=
            fmt::format(".SS virga\\-cli {}\n{}\n{}", roff(name), roff(command.get_description()), optionText(command));
        return;
    }
    for (const CLI::App* one : inner) addCommand(*one, name + " ", text);
}

std::string words(const CLI::App& command) {
    std::string text;
    for (const CLI::App* one : command.get_subcommands([](const CLI::App*) { return true; }))
        text += (text.empty() ? "" : " ") + one->get_name();
    for (const CLI::Option* o : command.get_options())
        for (const std::string& name : o->get_lnames()) text += (text.empty() ? "" : " ") + ("--" + name);
    return text;
}

} // namespace

std::string manualPage(const CLI::App& app) {
    std::string text =
        roffTitle("VIRGA\\-CLI") +
        ".SH NAME\nvirga\\-cli \\- make a cut feel "
        "like one continuous camera move, from the terminal\n.SH SYNOPSIS\n.B virga\\-cli\n\\fICOMMAND\\fP "
        "[\\fIOPTIONS\\fP]\n.SH DESCRIPTION\n";
    text += roff(app.get_description()) + "\n.SH COMMANDS\n";
    for (const CLI::App* command : app.get_subcommands([](const CLI::App*) { return true; }))
        addCommand(*command, "", text);
    text += ".SH NOTES\n" + roff(app.get_footer()) + "\n.SH SEE ALSO\n.BR virga (1)\n";
    return text;
}

std::string bashCompletion(const CLI::App& app) {
    std::string cases;
    for (const CLI::App* command : app.get_subcommands([](const CLI::App*) { return true; }))
        cases += fmt::format("        {}) words=\"{}\" ;;\n", command->get_name(), words(*command));
    return "# Completion of virga-cli for bash, written by 'virga-cli --bash-completion'.\n"
           "_virga_cli() {\n"
           "    local word=${COMP_WORDS[COMP_CWORD]} words\n"
           "    case ${COMP_WORDS[1]} in\n" +
           cases + fmt::format("        *) words=\"{}\" ;;\n", words(app)) +
           "    esac\n"
           "    if [ \"$COMP_CWORD\" -eq 1 ] || [ \"${word#-}\" != \"$word\" ]; then\n"
           "        COMPREPLY=($(compgen -W \"$words\" -- \"$word\"))\n"
           "    else\n"
           "        COMPREPLY=($(compgen -f -- \"$word\") $(compgen -W \"$words\" -- \"$word\" | grep -v '^-'))\n"
           "    fi\n"
           "}\n"
           "complete -o filenames -F _virga_cli virga-cli\n";
}

} // namespace virga::cli
