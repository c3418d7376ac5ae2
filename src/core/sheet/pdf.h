// PDF behind one door.
#pragma once

#include "sheet/document.h"

namespace inselberg::sheet {

// As openDocument, for bytes that begin like a PDF.
std::unique_ptr<Document> openPdf(std::shared_ptr<const std::string> bytes, const std::string& name);

}  // namespace inselberg::sheet
