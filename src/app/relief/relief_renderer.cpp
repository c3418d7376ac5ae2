#include "relief/relief_renderer.h"

#include <QOffscreenSurface>
#include <QOpenGLContext>
#include <QOpenGLExtraFunctions>
#include <QPainter>
#include <algorithm>
#include <array>
#include <chrono>
#include <cmath>
#include <cstddef>
#include <limits>

#include "base/error.h"
#include "canvas/ground_colours.h"
#include "ground/steepness.h"
#include "relief/relief_mesh.h"
#include "theme/theme.h"

namespace inselberg::app {
namespace {

using ground::TinPtr;
using plane::Vec2;
using plane::Vec3;

constexpr double kFrame = 0.03;                                         // s, wanted while moving
constexpr std::size_t kMostMoving = 100'000, kMostResting = 2'000'000;  // triangles
constexpr double kPixels = 1;                                           // to a cell of lost detail
constexpr int kScale = 256;                                             // colours

constexpr const char* kGroundVertex = R"(#version 330 core
layout(location = 0) in vec3 place;
layout(location = 1) in vec3 normal;
layout(location = 2) in float depth;
uniform mat4 matrix;
uniform float raise;
out vec3 at;
out vec3 smoothNormal;
out float difference;
void main() {
  at = place;
  smoothNormal = normal;
  difference = depth;
  gl_Position = matrix * vec4(place.xy, place.z * raise, 1.0);
}
)";

// The light is the plan's: from the north-west, slopes raised. Smooth where corners bend little, sharp at edges.
constexpr const char* kGroundFragment = R"(#version 330 core
in vec3 at;
in vec3 smoothNormal;
in float difference;
out vec4 colour;
uniform int mode;               // 0 grass, 1 depth, 2 levels, 3 steepness, 4 works
uniform sampler2D scale;
uniform vec2 levels;            // the lowest, and the range to the highest
uniform float bands;            // of levels
uniform float greatest;
uniform float leastDepth;
uniform int lit;                // 0 all, 1 cut, 2 fill
uniform float slopes;
uniform float limits[7];        // of steepness
uniform int limitCount;
uniform vec2 contours;          // the interval (0: none), and the middle's level above a multiple of five of it
uniform vec3 contourInk;
uniform bool cutting;
uniform vec4 cut;               // a place of the line, and a direction square to it
uniform vec4 glass;             // colour and how much of it; 0: solid
uniform vec3 below;             // the colour of what is seen from beneath
uniform sampler2D covered;      // in plan, where something else takes the ground's place
uniform vec4 coveredBox;        // its south-west corner, and one over its extents; 0: nothing does
uniform sampler2D tints;        // in plan, colours of works, times how much of them
uniform vec4 tintBox;           // as coveredBox
void main() {
  if (cutting && dot(at.xy - cut.xy, cut.zw) > 0.0) discard;
  if (coveredBox.z > 0.0) {
    vec2 there = (at.xy - coveredBox.xy) * coveredBox.zw;
    if (all(greaterThan(there, vec2(0.0))) && all(lessThan(there, vec2(1.0))) && texture(covered, there).r > 0.5)
      discard;
  }
  vec3 sharp = normalize(cross(dFdx(at), dFdy(at)));
  if (sharp.z < 0.0) sharp = -sharp;
  vec3 bent = normalize(smoothNormal);
  vec3 normal = mix(sharp, bent, smoothstep(0.988, 0.996, dot(sharp, bent)));
  vec3 raised = normalize(vec3(normal.xy * slopes, normal.z));
  float light = clamp(0.42 + 0.56 * dot(raised, vec3(-0.5, 0.5, 0.7071)) / 0.7071, 0.5, 1.08);
  float high = clamp((at.z - levels.x) / levels.y, 0.0, 1.0);
  float along = high;
  int row = 0;
  if (mode == 1 && abs(difference) > leastDepth && lit != (difference > 0.0 ? 1 : 2)) {
    row = 1;
    along = 0.5 + 0.5 * clamp(difference / greatest, -1.0, 1.0);
    light = mix(light, 1.0, 0.5);
  } else if (mode == 2) {
    row = 1;
    along = (min(floor(high * bands), bands - 1.0) + 0.5) / bands;
  } else if (mode == 3) {
    row = 1;
    float steep = length(sharp.xy) / max(sharp.z, 1e-6);  // the triangle's own, as on the plan
    int band = 0;
    for (int i = 0; i < limitCount; ++i) band += steep >= limits[i] ? 1 : 0;
    along = (float(band) + 0.5) / float(limitCount + 1);
  }
  vec3 paint = texture(scale, vec2(along, row == 0 ? 0.25 : 0.75)).rgb;
  if (mode == 4 && tintBox.z > 0.0) {
    vec4 tint = texture(tints, vec2(0.0, 1.0) + vec2(1.0, -1.0) * (at.xy - tintBox.xy) * tintBox.zw);
    paint = tint.rgb + (1.0 - tint.a) * paint;
  }
  paint *= light;
  if (contours.x > 0.0) {
    float v = (at.z + contours.y) / contours.x;
    float width = fwidth(v);
    float from = abs(fract(v - 0.5) - 0.5) / max(width, 1e-6);
    bool index = abs(fract(v / 5.0 + 0.5) - 0.5) < 0.1;
    float line = (1.0 - clamp(from - (index ? 0.3 : -0.1), 0.0, 1.0)) * (1.0 - smoothstep(0.25, 0.5, width));
    paint = mix(paint, contourInk, line * (index ? 0.75 : 0.45));
  }
  if (!gl_FrontFacing) paint = mix(paint, below * light, 0.65);
  colour = glass.a > 0.0 ? vec4(mix(paint, glass.rgb * light, 0.6), glass.a) : vec4(paint, 1.0);
}
)";

// Lines lie on the ground, and are drawn a hair `nearer`.
constexpr const char* kLineVertex = R"(#version 330 core
layout(location = 0) in vec3 place;
uniform mat4 matrix;
uniform float raise;
uniform float nearer;
out vec2 at;
void main() {
  at = place.xy;
  gl_Position = matrix * vec4(place.xy, place.z * raise, 1.0);
  gl_Position.z -= nearer * gl_Position.w;
}
)";
constexpr const char* kLineFragment = R"(#version 330 core
in vec2 at;
out vec4 colour;
uniform vec3 ink;
uniform bool cutting;
uniform vec4 cut;
void main() {
  if (cutting && dot(at - cut.xy, cut.zw) > 0.0) discard;
  colour = vec4(ink, 1.0);
}
)";

QVector3D vectorOf(const QColor& c) {
  return {static_cast<float>(c.redF()), static_cast<float>(c.greenF()), static_cast<float>(c.blueF())};
}

// The colours along the scales: above grass from low to high ground, below what the mode tells.
QImage scaleOf(const ReliefRequest& r, int bands) {
  QImage image(kScale, 2, QImage::Format_RGB32);
  for (int i = 0; i < kScale; ++i) {
    const double along = (i + 0.5) / kScale;
    image.setPixel(i, 0, grass(along, 1));
    QColor told = theme::depthColour(2 * along - 1, 1);
    if (r.mode == PlanMode::levels) told = theme::levelColour(std::floor(along * bands) / std::max(bands - 1, 1));
    if (const auto limits = static_cast<double>(r.steepness.size()); r.mode == PlanMode::steepness)
      told = theme::steepnessColour(std::floor(along * (limits + 1)) / limits);
    image.setPixel(i, 1, told.rgb());
  }
  return image;
}

}  // namespace

std::optional<Vec3> ReliefPicture::placeAt(QPointF pixel) const {
  const double ratio = image.devicePixelRatio();
  const int x = static_cast<int>(pixel.x() * ratio), y = static_cast<int>(pixel.y() * ratio);
  if (image.isNull() || x < 0 || y < 0 || x >= image.width() || y >= image.height()) return std::nullopt;
  const double depth = depths[static_cast<std::size_t>(image.height() - 1 - y) * image.width() + x];
  if (!(depth < 1)) return std::nullopt;
  const double n = near, f = far;
  Vec3 place = camera.at(QPointF(x + 0.5, y + 0.5) / ratio, n * f / (f - depth * (f - n)));
  place.z = middle.z + (place.z - middle.z) / raise;
  return place;
}

bool ReliefPicture::sees(const Vec3& place) const {
  const Vec3 p = raised(place);
  const auto pixel = camera.toScreen(p);
  if (!pixel) return false;
  const auto there = placeAt(*pixel);
  const double ahead = camera.ahead(p);
  return !there || camera.ahead(raised(*there)) > ahead - 0.02 * ahead;
}

// What is held of the graphics, and the way it is used.
class ReliefRenderer::Graphics : private QOpenGLExtraFunctions {
 public:
  explicit Graphics(QOffscreenSurface& surface) : surface_(surface) {
    QSurfaceFormat format = surface.requestedFormat();
    context_.setFormat(format);
    const auto fail = [] {
      return Error("the relief needs OpenGL 3.3, which this display does not offer",
                   "go on in the plan and the section, which need none");
    };
    if (!context_.create() || !context_.makeCurrent(&surface_)) throw fail();
    if (context_.format().version() < std::pair(3, 3)) throw fail();
    initializeOpenGLFunctions();
    ground_ = program(kGroundVertex, kGroundFragment);
    line_ = program(kLineVertex, kLineFragment);
    glGenTextures(1, &scale_), glGenTextures(1, &tints_);
    makeMask();
  }
  ~Graphics() {
    context_.makeCurrent(&surface_);
    for (Held& held : held_) drop(held);
    dropTargets();
    glDeleteTextures(1, &scale_), glDeleteTextures(1, &mask_), glDeleteTextures(1, &tints_);
    glDeleteFramebuffers(1, &maskFrame_);
    glDeleteProgram(ground_), glDeleteProgram(line_);
    context_.doneCurrent();
  }

  ReliefPicture render(const ReliefRequest& r, const Progress& progress) {
    context_.makeCurrent(&surface_);
    ReliefPicture picture{{}, r.camera, r.middle, r.raise, r.moving, 0, 1, {}, 0, 0};
    // A slow display gets fewer pixels while it moves.
    const auto begun = std::chrono::steady_clock::now();
    const double ratio = r.moving ? r.pixelRatio * share_ : r.pixelRatio;
    const int width = std::max(1, static_cast<int>(r.camera.size.width() * ratio));
    const int height = std::max(1, static_cast<int>(r.camera.size.height() * ratio));
    const bool even = !r.moving;  // edges evened out
    ++round_;
    prepareTargets(width, height, even);
    const bool covers = r.pending && !r.pending->empty();
    if (covers) drawMask(hold(r.pending, r.beneath, r.middle, progress), r);
    glBindFramebuffer(GL_FRAMEBUFFER, even ? even_.frame : plain_.frame);
    glViewport(0, 0, width, height);
    const QVector3D paper = vectorOf(theme::paper());
    glClearColor(paper.x(), paper.y(), paper.z(), 1);
    glDepthMask(GL_TRUE);
    glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
    glEnable(GL_DEPTH_TEST);
    float near = 0, far = 0;
    fresh_ = false;
    if (r.shown && !r.shown->empty()) {
      hold(r.shown, r.beneath, r.middle, progress);
      if (covers) hold(r.pending, r.beneath, r.middle, progress);  // none is handed over, and moves, from here on
      const Held& shown = hold(r.shown, r.beneath, r.middle, progress);
      const double reach = reachOf(r);
      near = static_cast<float>(r.camera.nearest()), far = static_cast<float>(r.camera.farthest(reach));
      const QMatrix4x4 matrix = r.camera.matrix(r.middle, reach);
      picture.greatestDepth = r.greatestDepth.value_or(std::max(0.5, shown.mesh.greatestDepth));
      drapeTints(r);
      setGround(r, matrix, picture.greatestDepth);
      picture.triangles += draw(shown, r);
      if (covers) {
        glUniform4f(uniform(ground_, "coveredBox"), 0, 0, 0, 0);
        picture.triangles += draw(hold(r.pending, r.beneath, r.middle, progress), r);
      }
      drawFlat(r, matrix);
      if (r.glass && r.glass != r.shown && !r.glass->empty()) {
        const Held& glass = hold(r.glass, nullptr, r.middle, progress);
        setGround(r, matrix, picture.greatestDepth);
        picture.triangles += drawGlass(glass, r);
      }
      std::erase_if(held_, [&](Held& h) {
        if (h.used != round_) drop(h);
        return h.used != round_;
      });
    }
    picture.near = near, picture.far = far;
    read(picture, width, height, even);
    picture.image.setDevicePixelRatio(ratio);
    const std::chrono::duration<double> took = std::chrono::steady_clock::now() - begun;
    if (r.moving && !fresh_) share_ = std::clamp(share_ * std::sqrt(kFrame / took.count()), 0.5, 1.0);
    return picture;
  }

  std::size_t bytes() const {
    std::size_t sum = 0;
    for (const Held& h : held_) sum += h.bytes;
    return sum;
  }

 private:
  static constexpr int kMask = 1024;  // pixels across

  // A ground in the graphics' memory.
  struct Held {
    TinPtr tin, beneath;
    Vec3 middle;
    std::uint64_t used = 0;  // in which round last
    ReliefMesh mesh;         // its corners and details go once they are handed over
    std::size_t bytes = 0;
    double slopes = 1;
    GLuint array = 0, corners = 0;
    std::vector<GLuint> details;
  };
  struct Target {
    GLuint frame = 0, colour = 0, depth = 0;
  };

  static Error refused(const std::string& why) {
    return Error("the display refused how the relief is drawn (" + why + ")", "go on in the plan and the section");
  }
  GLuint shader(GLenum kind, const char* text) {
    const GLuint made = glCreateShader(kind);
    glShaderSource(made, 1, &text, nullptr);
    glCompileShader(made);
    GLint good = 0;
    glGetShaderiv(made, GL_COMPILE_STATUS, &good);
    if (good) return made;
    std::array<char, 1000> why{};
    glGetShaderInfoLog(made, static_cast<GLsizei>(why.size()), nullptr, why.data());
    throw refused(why.data());
  }
  GLuint program(const char* vertex, const char* fragment) {
    const GLuint made = glCreateProgram(), v = shader(GL_VERTEX_SHADER, vertex),
                 f = shader(GL_FRAGMENT_SHADER, fragment);
    glAttachShader(made, v), glAttachShader(made, f);
    glLinkProgram(made);
    glDeleteShader(v), glDeleteShader(f);
    GLint good = 0;
    glGetProgramiv(made, GL_LINK_STATUS, &good);
    if (!good) throw refused("its parts do not fit together");
    return made;
  }

  void prepareTargets(int width, int height, bool even) {
    if (width != width_ || height != height_) dropTargets();
    width_ = width, height_ = height;
    if (!plain_.frame) plain_ = target(0);
    if (even && !even_.frame) even_ = target(4);
  }
  Target target(int samples) {
    Target made;
    glGenFramebuffers(1, &made.frame);
    glBindFramebuffer(GL_FRAMEBUFFER, made.frame);
    const auto buffer = [&](GLuint& name, GLenum format, GLenum place) {
      glGenRenderbuffers(1, &name);
      glBindRenderbuffer(GL_RENDERBUFFER, name);
      glRenderbufferStorageMultisample(GL_RENDERBUFFER, samples, format, width_, height_);
      glFramebufferRenderbuffer(GL_FRAMEBUFFER, place, GL_RENDERBUFFER, name);
    };
    buffer(made.colour, GL_RGBA8, GL_COLOR_ATTACHMENT0);
    buffer(made.depth, GL_DEPTH_COMPONENT24, GL_DEPTH_ATTACHMENT);
    if (glCheckFramebufferStatus(GL_FRAMEBUFFER) != GL_FRAMEBUFFER_COMPLETE)
      throw Error("the display has no room to draw the relief", "make the window smaller");
    return made;
  }
  void dropTargets() {
    for (Target* t : {&plain_, &even_}) {
      glDeleteFramebuffers(1, &t->frame);
      glDeleteRenderbuffers(1, &t->colour), glDeleteRenderbuffers(1, &t->depth);
      *t = {};
    }
  }

  const Held& hold(const TinPtr& tin, const TinPtr& beneath, const Vec3& middle, const Progress& progress) {
    for (Held& h : held_) {
      if (h.tin != tin || h.beneath != beneath || !(h.middle == middle)) continue;
      h.used = round_;
      return h;
    }
    Held made{tin, beneath, middle, round_, reliefMesh(*tin, beneath.get(), middle, progress), 0, slopesRaised(*tin),
              0,   0,       {}};
    made.bytes = made.mesh.bytes();
    fresh_ = true;
    glGenVertexArrays(1, &made.array);
    glBindVertexArray(made.array);
    glGenBuffers(1, &made.corners);
    glBindBuffer(GL_ARRAY_BUFFER, made.corners);
    using Corner = ReliefMesh::Corner;
    glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(made.mesh.corners.size() * sizeof(Corner)),
                 made.mesh.corners.data(), GL_STATIC_DRAW);
    const auto attribute = [&](GLuint place, GLint count, std::size_t offset) {
      glEnableVertexAttribArray(place);
      glVertexAttribPointer(place, count, GL_FLOAT, GL_FALSE, sizeof(Corner), reinterpret_cast<const void*>(offset));
    };
    attribute(0, 3, offsetof(Corner, x)), attribute(1, 3, offsetof(Corner, east));
    attribute(2, 1, offsetof(Corner, depth));
    made.mesh.corners = {};
    for (ReliefMesh::Detail& detail : made.mesh.details) {
      GLuint buffer = 0;
      glGenBuffers(1, &buffer);
      glBindBuffer(GL_ELEMENT_ARRAY_BUFFER, buffer);
      glBufferData(GL_ELEMENT_ARRAY_BUFFER, static_cast<GLsizeiptr>(detail.corners.size() * sizeof(std::uint32_t)),
                   detail.corners.data(), GL_STATIC_DRAW);
      detail.corners = {};
      made.details.push_back(buffer);
    }
    held_.push_back(std::move(made));
    return held_.back();
  }
  void drop(Held& held) {
    glDeleteVertexArrays(1, &held.array);
    glDeleteBuffers(1, &held.corners);
    glDeleteBuffers(static_cast<GLsizei>(held.details.size()), held.details.data());
  }

  void makeMask() {
    glGenTextures(1, &mask_);
    glBindTexture(GL_TEXTURE_2D, mask_);
    glTexImage2D(GL_TEXTURE_2D, 0, GL_R8, kMask, kMask, 0, GL_RED, GL_UNSIGNED_BYTE, nullptr);
    clampTexture();
    glGenFramebuffers(1, &maskFrame_);
    glBindFramebuffer(GL_FRAMEBUFFER, maskFrame_);
    glFramebufferTexture2D(GL_FRAMEBUFFER, GL_COLOR_ATTACHMENT0, GL_TEXTURE_2D, mask_, 0);
  }
  void clampTexture(GLint between = GL_NEAREST) {
    for (const GLenum side : {GL_TEXTURE_MIN_FILTER, GL_TEXTURE_MAG_FILTER})
      glTexParameteri(GL_TEXTURE_2D, side, between);
    for (const GLenum side : {GL_TEXTURE_WRAP_S, GL_TEXTURE_WRAP_T})
      glTexParameteri(GL_TEXTURE_2D, side, GL_CLAMP_TO_EDGE);
  }
  // The south-west corner of a box, relative to the middle, and one over its extents.
  static std::array<float, 4> boxFrom(const Vec3& middle, const plane::Box& box) {
    const auto f = [](double v) { return static_cast<float>(v); };
    return {f(box.minX - middle.x), f(box.minY - middle.y), f(1 / box.width()), f(1 / box.height())};
  }
  static std::array<float, 4> maskBox(const ReliefRequest& r) {
    return boxFrom(r.middle, r.pending->bounds().grown(0.5));
  }
  // Where the pending facets lie, in plan.
  void drawMask(const Held& pending, const ReliefRequest& r) {
    glBindFramebuffer(GL_FRAMEBUFFER, maskFrame_);
    glViewport(0, 0, kMask, kMask);
    glDisable(GL_DEPTH_TEST);
    glClearColor(0, 0, 0, 0);
    glClear(GL_COLOR_BUFFER_BIT);
    const auto [x, y, perX, perY] = maskBox(r);
    const QMatrix4x4 flat(2 * perX, 0, 0, -2 * perX * x - 1, 0, 2 * perY, 0, -2 * perY * y - 1, 0, 0, 0, 0, 0, 0, 0, 1);
    glUseProgram(line_);
    glUniformMatrix4fv(uniform(line_, "matrix"), 1, GL_FALSE, flat.constData());
    glUniform1f(uniform(line_, "raise"), 1);
    glUniform1i(uniform(line_, "cutting"), 0);
    glUniform3f(uniform(line_, "ink"), 1, 1, 1);
    glBindVertexArray(pending.array);
    glBindBuffer(GL_ELEMENT_ARRAY_BUFFER, pending.details.front());
    glDrawElements(GL_TRIANGLES, static_cast<GLsizei>(pending.mesh.details.front().starts.back()), GL_UNSIGNED_INT,
                   nullptr);
  }

  // From the eye to the farthest corner of the grounds.
  static double reachOf(const ReliefRequest& r) {
    double reach = 1;
    for (const TinPtr& tin : {r.shown, r.glass, r.pending}) {
      if (!tin || tin->empty()) continue;
      eachCorner(tin->bounds(), r.raised(tin->minLevel()), r.raised(tin->maxLevel()),
                 [&](const Vec3& corner) { reach = std::max(reach, r.camera.ahead(corner)); });
    }
    return reach * 1.01 + 1;
  }

  GLint uniform(GLuint of, const char* name) { return glGetUniformLocation(of, name); }
  void setMatrix(GLuint of, const ReliefRequest& r, const QMatrix4x4& matrix) {
    glUniformMatrix4fv(uniform(of, "matrix"), 1, GL_FALSE, matrix.constData());
    glUniform1f(uniform(of, "raise"), static_cast<float>(r.raise));
    glUniform1i(uniform(of, "cutting"), r.cut ? 1 : 0);
    if (!r.cut) return;
    const Vec2 at = r.cut->at - r.middle.plan(), left = -1.0 * plane::rightOf(plane::unit(r.cut->along));
    glUniform4f(uniform(of, "cut"), static_cast<float>(at.x), static_cast<float>(at.y), static_cast<float>(left.x),
                static_cast<float>(left.y));
  }
  void setGround(const ReliefRequest& r, const QMatrix4x4& matrix, double greatestDepth) {
    glUseProgram(ground_);
    setMatrix(ground_, r, matrix);
    const ground::Tin& steady = r.beneath ? *r.beneath : *r.shown;
    const LevelBands bands = levelBands(steady);
    const bool levels = r.mode == PlanMode::levels;
    const double low = levels ? bands.lowest : steady.minLevel();
    const double range = levels ? bands.count * bands.step : std::max(steady.maxLevel() - low, 0.01);
    const auto f = [](double v) { return static_cast<float>(v); };
    glUniform1i(uniform(ground_, "mode"), static_cast<int>(r.mode));
    glUniform2f(uniform(ground_, "levels"), f(low - r.middle.z), f(range));
    glUniform1f(uniform(ground_, "bands"), f(bands.count));
    glUniform1f(uniform(ground_, "greatest"), f(greatestDepth));
    glUniform1f(uniform(ground_, "leastDepth"), f(kLeastDepth));
    glUniform1i(uniform(ground_, "lit"), static_cast<int>(r.lit));
    // The pixels of a triangle know its slope by their places, less closely than the triangle does.
    constexpr double kRounding = 10 * ground::kSteepnessRounding;
    std::vector<float> limits;
    for (const double limit : r.steepness) limits.push_back(f(limit - kRounding));
    glUniform1fv(uniform(ground_, "limits"), static_cast<GLsizei>(limits.size()), limits.data());
    glUniform1i(uniform(ground_, "limitCount"), static_cast<int>(limits.size()));
    const double five = 5 * r.interval;
    const double over = five > 0 ? r.middle.z - std::floor(r.middle.z / five) * five : 0;
    glUniform2f(uniform(ground_, "contours"), f(r.interval), f(over));
    const QVector3D contour = vectorOf(theme::contour());
    glUniform3f(uniform(ground_, "contourInk"), contour.x(), contour.y(), contour.z());
    glUniform4f(uniform(ground_, "glass"), 0, 0, 0, 0);
    const QVector3D below = vectorOf(theme::loam());
    glUniform3f(uniform(ground_, "below"), below.x(), below.y(), below.z());
    const QImage scale = scaleOf(r, bands.count).convertToFormat(QImage::Format_RGBA8888);
    glActiveTexture(GL_TEXTURE0);
    glBindTexture(GL_TEXTURE_2D, scale_);
    glTexImage2D(GL_TEXTURE_2D, 0, GL_RGBA8, kScale, 2, 0, GL_RGBA, GL_UNSIGNED_BYTE, scale.constBits());
    clampTexture();
    glUniform1i(uniform(ground_, "scale"), 0);
    glActiveTexture(GL_TEXTURE1);
    glBindTexture(GL_TEXTURE_2D, mask_);
    glUniform1i(uniform(ground_, "covered"), 1);
    const bool covers = r.pending && !r.pending->empty();
    const auto box = covers ? maskBox(r) : std::array<float, 4>{};
    glUniform4f(uniform(ground_, "coveredBox"), box[0], box[1], box[2], box[3]);
    glActiveTexture(GL_TEXTURE2);
    glBindTexture(GL_TEXTURE_2D, tints_);
    glUniform1i(uniform(ground_, "tints"), 2);
    glUniform4f(uniform(ground_, "tintBox"), tintBox_[0], tintBox_[1], tintBox_[2], tintBox_[3]);
  }
  // The works' colours as a picture to be laid over the ground: fine enough to have clean edges from near by.
  void drapeTints(const ReliefRequest& r) {
    constexpr double kMost = 2048, kFinest = 0.05;  // pixels across; m
    if (tinted_ == r.tints && tintMiddle_ == r.middle && tintTheme_ == theme::current()) return;
    tinted_ = r.tints, tintMiddle_ = r.middle, tintTheme_ = theme::current();
    tintBox_ = {};
    plane::Box box;
    for (const WorksTint& tint : r.tints) box.add(tint.facets->bounds());
    if (box.empty()) return;
    box = box.grown(std::max(box.width(), box.height()) / 100 + 1);
    const double metres = std::max(kFinest, std::max(box.width(), box.height()) / kMost);
    ViewTransform view{box.centre(), 1 / metres,
                       QSizeF(std::ceil(box.width() / metres), std::ceil(box.height() / metres))};
    QImage image(view.size.toSize(), QImage::Format_RGBA8888_Premultiplied);
    image.fill(Qt::transparent);
    QPainter painter(&image);
    paintTints(painter, r.tints, view);
    painter.end();
    tintBox_ = boxFrom(r.middle, view.visible());
    glActiveTexture(GL_TEXTURE2);
    glBindTexture(GL_TEXTURE_2D, tints_);
    glTexImage2D(GL_TEXTURE_2D, 0, GL_RGBA8, image.width(), image.height(), 0, GL_RGBA, GL_UNSIGNED_BYTE,
                 image.constBits());
    clampTexture(GL_LINEAR);
  }

  std::size_t draw(const Held& held, const ReliefRequest& r) {
    glUniform1f(uniform(ground_, "slopes"), static_cast<float>(held.slopes));
    const ReliefMesh& mesh = held.mesh;
    std::vector<double> perPixel;
    for (const ReliefMesh::Tile& tile : mesh.tiles) {
      double nearest = std::numeric_limits<double>::infinity();
      eachCorner(tile.box, r.raised(tile.low), r.raised(tile.high),
                 [&](const Vec3& corner) { nearest = std::min(nearest, r.camera.ahead(corner)); });
      perPixel.push_back(r.camera.metresPerPixel(std::max(nearest, 0.02 * r.camera.distance)) / r.pixelRatio);
    }
    const auto chosen = chooseDetail(mesh, perPixel, kPixels, r.moving ? kMostMoving : kMostResting);
    glBindVertexArray(held.array);
    std::size_t triangles = 0;
    for (std::size_t d = 0; d < mesh.details.size(); ++d) {
      const auto& starts = mesh.details[d].starts;
      glBindBuffer(GL_ELEMENT_ARRAY_BUFFER, held.details[d]);
      // Neighbouring tiles of one detail go in one call.
      for (std::size_t k = 0; k < chosen.size(); ++k) {
        if (chosen[k] != d) continue;
        std::size_t last = k;
        while (last + 1 < chosen.size() && chosen[last + 1] == d) ++last;
        const std::uint32_t count = starts[last + 1] - starts[k];
        if (count > 0) {
          glDrawElements(GL_TRIANGLES, static_cast<GLsizei>(count), GL_UNSIGNED_INT,
                         reinterpret_cast<const void*>(std::size_t{starts[k]} * sizeof(std::uint32_t)));
        }
        triangles += count / 3;
        k = last;
      }
    }
    return triangles;
  }
  std::size_t drawGlass(const Held& held, const ReliefRequest& r) {
    const QVector3D tint = vectorOf(theme::granite());
    glUniform1i(uniform(ground_, "mode"), 0);
    glUniform4f(uniform(ground_, "glass"), tint.x(), tint.y(), tint.z(), 0.32F);
    glUniform2f(uniform(ground_, "contours"), 0, 0);
    glUniform4f(uniform(ground_, "coveredBox"), 0, 0, 0, 0);
    glEnable(GL_BLEND);
    glBlendFunc(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA);
    // Where both are one, the solid one is seen.
    glDepthMask(GL_FALSE);
    glEnable(GL_POLYGON_OFFSET_FILL);
    glPolygonOffset(1, 2);
    const std::size_t triangles = draw(held, r);
    glDisable(GL_POLYGON_OFFSET_FILL);
    glDisable(GL_BLEND);
    glDepthMask(GL_TRUE);
    return triangles;
  }

  // What has one colour in any light: what stands at the cut, and lines.
  void drawFlat(const ReliefRequest& r, const QMatrix4x4& matrix) {
    glUseProgram(line_);
    setMatrix(line_, r, matrix);
    GLuint array = 0, buffer = 0;
    glGenVertexArrays(1, &array);
    glBindVertexArray(array);
    glGenBuffers(1, &buffer);
    glBindBuffer(GL_ARRAY_BUFFER, buffer);
    glEnableVertexAttribArray(0);
    glVertexAttribPointer(0, 3, GL_FLOAT, GL_FALSE, 0, nullptr);
    const auto draw = [&](const std::vector<Vec3>& points, const QColor& colour, GLenum how) {
      std::vector<float> places;
      for (const Vec3& p : points) {
        for (const double v : {p.x - r.middle.x, p.y - r.middle.y, p.z - r.middle.z})
          places.push_back(static_cast<float>(v));
      }
      glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(places.size() * sizeof(float)), places.data(),
                   GL_STREAM_DRAW);
      const QVector3D ink = vectorOf(colour);
      glUniform3f(uniform(line_, "ink"), ink.x(), ink.y(), ink.z());
      glDrawArrays(how, 0, static_cast<GLsizei>(points.size()));
    };
    glUniform1f(uniform(line_, "nearer"), 0.0006F);
    for (const ReliefRequest::Line& line : r.lines) draw(line.points, line.colour, GL_LINE_STRIP);
    if (r.cut) {
      glUniform1f(uniform(line_, "nearer"), 0);
      glUniform1i(uniform(line_, "cutting"), 0);
      for (const CutFace::Layer& layer : faceOf(r).layers) draw(layer.triangles, layer.colour, GL_TRIANGLES);
    }
    glDeleteBuffers(1, &buffer);
    glDeleteVertexArrays(1, &array);
  }

  const CutFace& faceOf(const ReliefRequest& r) {
    if (faceCut_ != r.cut || faceSteps_ != r.steps) face_ = cutFaceOf(*r.cut, r.steps);
    faceCut_ = r.cut, faceSteps_ = r.steps;
    return face_;
  }

  // The picture, and how deep everything in it lies.
  void read(ReliefPicture& picture, int width, int height, bool even) {
    if (even) {
      glBindFramebuffer(GL_READ_FRAMEBUFFER, even_.frame);
      glBindFramebuffer(GL_DRAW_FRAMEBUFFER, plain_.frame);
      glBlitFramebuffer(0, 0, width, height, 0, 0, width, height, GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT,
                        GL_NEAREST);
    }
    glBindFramebuffer(GL_FRAMEBUFFER, plain_.frame);
    QImage image(width, height, QImage::Format_RGB32);
    glReadPixels(0, 0, width, height, GL_BGRA, GL_UNSIGNED_INT_8_8_8_8_REV, image.bits());
    picture.image = std::move(image).mirrored();
    picture.depths.resize(static_cast<std::size_t>(width) * height);
    glReadPixels(0, 0, width, height, GL_DEPTH_COMPONENT, GL_FLOAT, picture.depths.data());
  }

  QOffscreenSurface& surface_;
  QOpenGLContext context_;
  GLuint ground_ = 0, line_ = 0, scale_ = 0, mask_ = 0, maskFrame_ = 0, tints_ = 0;
  Target plain_, even_;
  int width_ = 0, height_ = 0;
  std::uint64_t round_ = 0;
  double share_ = 1;    // of the pixels across, while moving
  bool fresh_ = false;  // a ground was handed over in this round
  std::vector<Held> held_;
  std::vector<WorksTint> tinted_;  // what `tints_` holds
  Vec3 tintMiddle_;
  theme::Theme tintTheme_ = theme::Theme::light;
  std::array<float, 4> tintBox_{};
  CutFace face_;  // of these
  std::optional<ReliefCut> faceCut_;
  std::vector<EarthStep> faceSteps_;
};

ReliefRenderer::ReliefRenderer() : surface_(std::make_unique<QOffscreenSurface>()) {
  QSurfaceFormat format;
  format.setVersion(3, 3);
  format.setProfile(QSurfaceFormat::CoreProfile);
  surface_->setFormat(format);
  surface_->create();
}
ReliefRenderer::~ReliefRenderer() = default;

ReliefPicture ReliefRenderer::render(const ReliefRequest& request, const Progress& progress) {
  if (!graphics_) graphics_ = std::make_unique<Graphics>(*surface_);
  return graphics_->render(request, progress);
}

void ReliefRenderer::release() {
  graphics_.reset();
}

std::size_t ReliefRenderer::bytes() const {
  return graphics_ ? graphics_->bytes() : 0;
}

}  // namespace inselberg::app
