// Calls that have a file of their own. Each adds itself to the program.
#pragma once

#include <CLI/CLI.hpp>

namespace inselberg::cli {

void addBalance(CLI::App& app);
void addDraw(CLI::App& app);
void addSection(CLI::App& app);
void addSheet(CLI::App& app);

}  // namespace inselberg::cli
