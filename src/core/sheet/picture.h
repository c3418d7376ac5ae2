// Pictures as plan sheets.
#pragma once

#include "sheet/document.h"
#include "sheet/picture_head.h"

namespace inselberg::sheet {

// As openDocument, for bytes of that kind.
std::unique_ptr<Document> openPicture(std::shared_ptr<const std::string> bytes, PictureKind kind,
                                      const std::string& name, const std::string& worldFile);

}  // namespace inselberg::sheet
