#include "sheet/document.h"

#include <algorithm>

#include "base/error.h"
#include "base/lower_case.h"
#include "sheet/pdf.h"
#include "sheet/picture.h"

namespace inselberg::sheet {
namespace {

constexpr const char* kEndings[] = {".pdf", ".png", ".jpg", ".jpeg", ".tif", ".tiff"};

}  // namespace

bool isSheetEnding(const std::string& name) {
  return std::any_of(std::begin(kEndings), std::end(kEndings),
                     [name = lowerCase(name)](const char* ending) { return name.ends_with(ending); });
}

std::string sheetEndings() {
  std::string all;
  for (const char* ending : kEndings) all += (all.empty() ? "" : " ") + std::string(ending);
  return all;
}

std::unique_ptr<Document> openDocument(std::shared_ptr<const std::string> bytes, const std::string& name,
                                       const std::string& worldFile) {
  const std::string_view start = std::string_view(*bytes).substr(0, 1024);
  if (start.find("%PDF-") != std::string_view::npos) return openPdf(std::move(bytes), name);
  if (const auto kind = pictureKind(start)) return openPicture(std::move(bytes), *kind, name, worldFile);
  throw Error("the file is neither a PDF nor a picture", {name}, "give " + sheetEndings());
}

}  // namespace inselberg::sheet
