#include "app/view/renderer.h"

#include <QOffscreenSurface>
#include <QOpenGLBuffer>
#include <QOpenGLContext>
#include <QOpenGLFramebufferObject>
#include <QOpenGLFunctions_3_3_Core>
#include <QOpenGLShaderProgram>
#include <QOpenGLVersionFunctionsFactory>
#include <QOpenGLVertexArrayObject>
#include <algorithm>
#include <map>

#include "app/theme.h"
#include "app/view/shaders.h"

namespace anvil::app {

struct Renderer::Impl {
    struct Buffers {
        QOpenGLVertexArrayObject body, lines;
        QOpenGLBuffer positions{QOpenGLBuffer::VertexBuffer}, triangles{QOpenGLBuffer::IndexBuffer},
            reduced{QOpenGLBuffer::IndexBuffer}, creases{QOpenGLBuffer::VertexBuffer},
            tints{QOpenGLBuffer::VertexBuffer};
        int triangle_count = 0, reduced_count = 0, line_ends = 0;
        std::weak_ptr<const DisplayMesh> mesh;
    };

    QOffscreenSurface& surface;
    QOpenGLContext context;
    QOpenGLFunctions_3_3_Core* gl = nullptr;
    QString trouble;
    std::unique_ptr<QOpenGLShaderProgram> body, line, bed, height, shade, cap;
    std::unique_ptr<QOpenGLFramebufferObject> still, moving, heights, shades;
    std::vector<float> shaded;  // what the shade is of
    QVector4D shade_box;        // and where it lies
    bool moves = false;         // of the scene that is drawn
    const Palette* palette = nullptr;
    const std::atomic<bool>* gives_up = nullptr;
    std::unique_ptr<Buffers> sheet;
    std::map<const DisplayMesh*, std::unique_ptr<Buffers>> cache;

    explicit Impl(QOffscreenSurface& drawn_on) : surface(drawn_on) {
        context.setFormat(format());
        if (!context.create() || !context.makeCurrent(&surface)) {
            trouble = "The model cannot be drawn: OpenGL is not available on this display.";
            return;
        }
        gl = QOpenGLVersionFunctionsFactory::get<QOpenGLFunctions_3_3_Core>(&context);
        if (!gl) {
            trouble = "The model cannot be drawn: OpenGL 3.3 is needed.";
            return;
        }
        body = program(shaders::body_vertex, shaders::body_fragment);
        line = program(shaders::line_vertex, shaders::line_fragment);
        bed = program(shaders::bed_vertex, shaders::bed_fragment);
        height = program(shaders::body_vertex, shaders::height_fragment);
        shade = program(shaders::shade_vertex, shaders::shade_fragment);
        cap = program(shaders::cap_vertex, shaders::cap_fragment);
        sheet = std::make_unique<Buffers>();
        const float quad[] = {-1, -1, 0, 1, -1, 0, -1, 1, 0, 1, 1, 0};
        sheet->body.create();
        sheet->body.bind();
        fill(sheet->positions, quad, sizeof quad);
        gl->glVertexAttribPointer(0, 3, GL_FLOAT, GL_FALSE, 0, nullptr);
        gl->glEnableVertexAttribArray(0);
        sheet->body.release();
        context.doneCurrent();
    }
    ~Impl() {
        if (!gl) return;
        context.makeCurrent(&surface);
        cache.clear();
        sheet.reset();
        still.reset();
        moving.reset();
        heights.reset();
        shades.reset();
        shade.reset();
        body.reset();
        line.reset();
        bed.reset();
        height.reset();
        cap.reset();
        context.doneCurrent();
    }

    const Palette& colour() const { return *palette; }

    std::unique_ptr<QOpenGLShaderProgram> program(const char* vertex, const char* fragment) {
        auto p = std::make_unique<QOpenGLShaderProgram>();
        if (!p->addShaderFromSourceCode(QOpenGLShader::Vertex, vertex) ||
            !p->addShaderFromSourceCode(QOpenGLShader::Fragment, fragment) || !p->link())
            trouble = "The model cannot be drawn: " + p->log();
        return p;
    }
    static void fill(QOpenGLBuffer& buffer, const void* data, std::size_t bytes) {
        buffer.create();
        buffer.bind();
        buffer.allocate(data, static_cast<int>(bytes));
    }

    Buffers& buffers(const std::shared_ptr<const DisplayMesh>& mesh) {
        std::erase_if(cache, [](const auto& entry) { return entry.second->mesh.expired(); });
        auto& slot = cache[mesh.get()];
        if (slot) return *slot;
        slot = std::make_unique<Buffers>();
        slot->mesh = mesh;
        slot->body.create();
        slot->body.bind();
        fill(slot->positions, mesh->positions.data(), mesh->positions.size() * 4);
        gl->glVertexAttribPointer(0, 3, GL_FLOAT, GL_FALSE, 0, nullptr);
        gl->glEnableVertexAttribArray(0);
        if (!mesh->tints.empty()) {
            fill(slot->tints, mesh->tints.data(), mesh->tints.size());
            gl->glVertexAttribPointer(1, 4, GL_UNSIGNED_BYTE, GL_TRUE, 0, nullptr);
            gl->glEnableVertexAttribArray(1);
        }
        fill(slot->triangles, mesh->triangles.data(), mesh->triangles.size() * 4);
        slot->body.release();
        if (!mesh->reduced.empty()) {
            fill(slot->reduced, mesh->reduced.data(), mesh->reduced.size() * 4);
            slot->reduced.release();
        }
        slot->reduced_count = static_cast<int>(mesh->reduced.size());
        slot->triangle_count = static_cast<int>(mesh->triangles.size());
        slot->lines.create();
        slot->lines.bind();
        fill(slot->creases, mesh->creases.data(), mesh->creases.size() * 4);
        gl->glVertexAttribPointer(0, 4, GL_FLOAT, GL_FALSE, 0, nullptr);
        gl->glEnableVertexAttribArray(0);
        slot->lines.release();
        slot->line_ends = static_cast<int>(mesh->creases.size() / 4);
        return *slot;
    }

    static QMatrix4x4 model(const SceneItem& item) {
        QMatrix4x4 m;
        const Transform& t = item.stands;
        for (int r = 0; r < 3; ++r)
            for (int c = 0; c < 3; ++c) m(r, c) = static_cast<float>(t.linear()(r, c));
        const Vec3 place = apply(t, item.mesh->center);
        m(0, 3) = static_cast<float>(place.x);
        m(1, 3) = static_cast<float>(place.y);
        m(2, 3) = static_cast<float>(place.z);
        return m;
    }

    /// From here on what is drawn is cut by the section, or not.
    void cut(const Scene& scene, const QMatrix4x4& view, bool on) {
        // A plane that keeps everything, too: some drivers go on cutting by the last one.
        QVector4D plane(0, 0, 0, 1);
        gl->glDisable(GL_CLIP_DISTANCE0);
        auto vector = [](const Vec3& v) {
            return QVector3D(static_cast<float>(v.x), static_cast<float>(v.y), static_cast<float>(v.z));
        };
        if (scene.section && on) {
            const QVector3D n = -view.mapVector(vector(scene.section->normal));
            plane = QVector4D(n, -QVector3D::dotProduct(n, view.map(vector(scene.section->origin))));
            gl->glEnable(GL_CLIP_DISTANCE0);
        }
        for (QOpenGLShaderProgram* p : {body.get(), line.get()}) {
            p->bind();
            p->setUniformValue("section", plane);
        }
    }

    /// Fills the plane of the section where it goes through a body: where the eye's ray is inside there, which the
    /// faces before it and behind it tell.
    void draw_cap(const Scene& scene, const SceneItem& item, int number, const QMatrix4x4& view,
                  const QMatrix4x4& projection, float ratio) {
        gl->glEnable(GL_STENCIL_TEST);
        gl->glClear(GL_STENCIL_BUFFER_BIT);
        gl->glColorMask(GL_FALSE, GL_FALSE, GL_FALSE, GL_FALSE);
        gl->glDepthMask(GL_FALSE);
        gl->glDisable(GL_DEPTH_TEST);
        gl->glStencilFunc(GL_ALWAYS, 0, 0xff);
        gl->glStencilOpSeparate(GL_FRONT, GL_KEEP, GL_KEEP, GL_DECR_WRAP);
        gl->glStencilOpSeparate(GL_BACK, GL_KEEP, GL_KEEP, GL_INCR_WRAP);
        draw_body(item, view, projection, colour().body, 1, 0, ratio);
        gl->glColorMask(GL_TRUE, GL_TRUE, GL_TRUE, GL_TRUE);
        gl->glDepthMask(GL_TRUE);
        gl->glEnable(GL_DEPTH_TEST);
        gl->glStencilFunc(GL_NOTEQUAL, 0, 0xff);
        gl->glStencilOp(GL_KEEP, GL_KEEP, GL_KEEP);
        gl->glDisable(GL_CLIP_DISTANCE0);
        const Vec3 n = scene.section->normal, middle = scene.bounds.center();
        const Vec3 centre = middle - n * dot(middle - scene.section->origin, n);
        const Vec3 u = normalized(cross(n, std::fabs(n.z) < 0.9 ? Vec3{0, 0, 1} : Vec3{1, 0, 0})), v = cross(n, u);
        const double half = std::max(1e-6, scene.bounds.diagonal());
        float quad[12];
        int k = 0;
        for (const double b : {-half, half})
            for (const double a : {-half, half})
                for (int i = 0; i < 3; ++i) quad[k++] = static_cast<float>((centre + u * a + v * b)[i]);
        sheet->positions.bind();
        sheet->positions.write(0, quad, sizeof quad);
        cap->bind();
        cap->setUniformValue("model_view", view);
        cap->setUniformValue("projection", projection);
        cap->setUniformValue("pixel_ratio", ratio);
        auto rgb = [](const QColor& c) { return QVector3D(c.redF(), c.greenF(), c.blueF()); };
        cap->setUniformValue("ground", rgb(colour().panel));
        cap->setUniformValue("ink", rgb(item.chosen ? colour().fuchsia : colour().petrol));
        // Each body its own direction: 45 degrees first, as on a drawing (ISO 128-3), then between those before.
        const double angles[] = {45, 135, 20, 160, 70, 110};
        const double a = angles[number % 6] * 3.14159265358979323846 / 180;
        cap->setUniformValue("across", QVector2D(static_cast<float>(-std::sin(a)), static_cast<float>(std::cos(a))));
        sheet->body.bind();
        gl->glDrawArrays(GL_TRIANGLE_STRIP, 0, 4);
        gl->glDisable(GL_STENCIL_TEST);
        gl->glEnable(GL_CLIP_DISTANCE0);
    }

    void draw_triangles(const Buffers& b) {
        const bool reduced = moves && b.reduced_count > 0;
        const_cast<QOpenGLVertexArrayObject&>(b.body).bind();
        const_cast<QOpenGLBuffer&>(reduced ? b.reduced : b.triangles).bind();
        // A software renderer draws a large body for long: some at a time, it can be given up between them.
        constexpr int at_a_time = 3 * 50'000;
        const int count = reduced ? b.reduced_count : b.triangle_count;
        for (int from = 0; from < count && !*gives_up; from += at_a_time)
            gl->glDrawElements(GL_TRIANGLES, std::min(at_a_time, count - from), GL_UNSIGNED_INT,
                               reinterpret_cast<const void*>(static_cast<std::uintptr_t>(from) * 4));
    }

    void draw_body(const SceneItem& item, const QMatrix4x4& view, const QMatrix4x4& projection, const QColor& colour,
                   float alpha, int hatch, float ratio) {
        body->bind();
        body->setUniformValue("model_view", view * model(item));
        body->setUniformValue("projection", projection);
        body->setUniformValue("colour", QVector4D(colour.redF(), colour.greenF(), colour.blueF(), alpha));
        body->setUniformValue("up_in_eye", view.mapVector(QVector3D(0, 0, 1)));
        body->setUniformValue("hatch", hatch);
        // A cutter is drawn in the colour that tells it is one.
        body->setUniformValue("tinted", item.is_solid() && !item.mesh->tints.empty() ? 1.0f : 0.0f);
        body->setUniformValue("pixel_ratio", ratio);
        draw_triangles(buffers(item.mesh));
    }
    void draw_lines(const SceneItem& item, const QMatrix4x4& view, const QMatrix4x4& projection, const QColor& colour,
                    float alpha, float period, float share, const QVector2D& shift = {}) {
        Buffers& b = buffers(item.mesh);
        constexpr int many_ends = 40'000;
        if (b.line_ends == 0 || (moves && b.line_ends > many_ends)) return;
        line->bind();
        line->setUniformValue("model_view", view * model(item));
        line->setUniformValue("projection", projection);
        line->setUniformValue("colour", QVector4D(colour.redF(), colour.greenF(), colour.blueF(), alpha));
        line->setUniformValue("dash", period, share);
        line->setUniformValue("lift", item.is_lines() ? 0.002f : 0.0012f);
        line->setUniformValue("shift", shift);
        b.lines.bind();
        gl->glDrawArrays(GL_LINES, 0, b.line_ends);
    }

    /// How high above the bed the body's underside is, seen from below, for the contact shade.
    void draw_heights(const Scene& scene, const QVector4D& box, float reach) {
        constexpr int size = 384;
        if (!heights) heights = std::make_unique<QOpenGLFramebufferObject>(size, size, QOpenGLFramebufferObject::Depth);
        heights->bind();
        gl->glViewport(0, 0, size, size);
        gl->glClearColor(1, 1, 1, 1);
        gl->glDepthMask(GL_TRUE);
        gl->glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
        gl->glEnable(GL_DEPTH_TEST);
        gl->glDisable(GL_BLEND);
        // Depth grows with height, so the lowest surface wins.
        QMatrix4x4 ortho;
        ortho(0, 0) = 2 / box.z();
        ortho(0, 3) = -1 - 2 * box.x() / box.z();
        ortho(1, 1) = 2 / box.w();
        ortho(1, 3) = -1 - 2 * box.y() / box.w();
        ortho(2, 2) = 1 / (4 * reach);
        ortho(2, 3) = -0.9f;
        height->bind();
        height->setUniformValue("section", 0.0f, 0.0f, 0.0f, 1.0f);
        if (scene.section) {  // in the job's coordinates here
            const Vec3 n = -scene.section->normal;
            height->setUniformValue("section", static_cast<float>(n.x), static_cast<float>(n.y),
                                    static_cast<float>(n.z), static_cast<float>(-dot(n, scene.section->origin)));
            gl->glEnable(GL_CLIP_DISTANCE0);
        }
        height->setUniformValue("projection", ortho);
        height->setUniformValue("reach", reach);
        for (const SceneItem& item : scene.items) {
            if (item.look != SceneItem::Look::body) continue;
            height->setUniformValue("model_view", model(item));
            draw_triangles(buffers(item.mesh));
        }
        gl->glDisable(GL_CLIP_DISTANCE0);
        heights->release();
    }

    /// The shade of contact on the bed, where it is not known from the picture before; while something moves the last
    /// one does.
    void draw_shade(const Scene& scene, const QVector4D& box, float reach) {
        std::vector<float> of{box.x(), box.y(), box.z(), box.w(), reach};
        for (const SceneItem& item : scene.items) {
            if (item.look != SceneItem::Look::body) continue;
            const auto name = reinterpret_cast<std::uintptr_t>(item.mesh.get());
            of.push_back(static_cast<float>(name >> 32));
            of.push_back(static_cast<float>(name >> 12 & 0xfffff));
            of.push_back(static_cast<float>(name & 0xfff));
            of.push_back(static_cast<float>(item.mesh->triangles.size()));
            const QMatrix4x4 at = model(item);
            of.insert(of.end(), at.constData(), at.constData() + 16);
        }
        if (scene.section)
            for (const Vec3& v : {scene.section->origin, scene.section->normal})
                for (int k = 0; k < 3; ++k) of.push_back(static_cast<float>(v[k]));
        if (shades && (moves || of == shaded)) return;
        shaded.clear();
        draw_heights(scene, box, reach);
        if (*gives_up) return;
        shaded = std::move(of);
        shade_box = box;
        constexpr int size = 256;
        if (!shades) shades = std::make_unique<QOpenGLFramebufferObject>(size, size);
        shades->bind();
        gl->glViewport(0, 0, size, size);
        gl->glDisable(GL_DEPTH_TEST);
        gl->glDisable(GL_BLEND);
        shade->bind();
        shade->setUniformValue("heights", 0);
        shade->setUniformValue("reach", reach / box.z(), reach / box.w());
        gl->glActiveTexture(GL_TEXTURE0);
        gl->glBindTexture(GL_TEXTURE_2D, heights->texture());
        gl->glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MIN_FILTER, GL_LINEAR);
        const float quad[] = {-1, -1, 0, 1, -1, 0, -1, 1, 0, 1, 1, 0};
        sheet->positions.bind();
        sheet->positions.write(0, quad, sizeof quad);
        sheet->body.bind();
        gl->glDrawArrays(GL_TRIANGLE_STRIP, 0, 4);
        shades->release();
    }

    void draw_bed(const QMatrix4x4& view, const QMatrix4x4& projection, const QVector2D& middle, float radius) {
        QMatrix4x4 model;
        model.translate(middle.x(), middle.y(), 0);
        model.scale(radius, radius, 1);
        bed->bind();
        bed->setUniformValue("model_view", view);
        bed->setUniformValue("projection", projection);
        bed->setUniformValue("middle", middle);
        bed->setUniformValue("radius", radius);
        float pitch = 1;
        while (pitch * 60 < radius) pitch *= 10;
        while (pitch * 6 > radius) pitch /= 10;
        bed->setUniformValue("pitch", pitch);
        auto rgb = [](const QColor& c) { return QVector3D(c.redF(), c.greenF(), c.blueF()); };
        bed->setUniformValue("paper", rgb(colour().bed));
        bed->setUniformValue("ruling", rgb(colour().bed_rule));
        bed->setUniformValue("dark", rgb(colour().bed_shade));
        bed->setUniformValue("shades", 0);
        bed->setUniformValue("shade_box", shade_box);
        gl->glActiveTexture(GL_TEXTURE0);
        gl->glBindTexture(GL_TEXTURE_2D, shades->texture());
        gl->glTexParameteri(GL_TEXTURE_2D, GL_TEXTURE_MIN_FILTER, GL_LINEAR);
        const float quad[] = {middle.x() - radius, middle.y() - radius, 0, middle.x() + radius, middle.y() - radius, 0,
                              middle.x() - radius, middle.y() + radius, 0, middle.x() + radius, middle.y() + radius, 0};
        sheet->positions.bind();
        sheet->positions.write(0, quad, sizeof quad);
        sheet->body.bind();
        gl->glDrawArrays(GL_TRIANGLE_STRIP, 0, 4);
    }
};

QSurfaceFormat Renderer::format() {
    QSurfaceFormat format;
    format.setVersion(3, 3);
    format.setProfile(QSurfaceFormat::CoreProfile);
    return format;
}
Renderer::Renderer(QOffscreenSurface& surface) : impl_(std::make_unique<Impl>(surface)) {}
Renderer::~Renderer() = default;
QString Renderer::trouble() const { return impl_->trouble; }

QImage Renderer::render(const Scene& scene, const Eye& eye, const std::atomic<bool>& gives_up) {
    Impl& d = *impl_;
    const Camera& camera = eye.camera;
    const QSize pixels = eye.pixels;
    const double ratio = eye.ratio;
    d.palette = eye.palette;
    d.gives_up = &gives_up;
    auto colour = [&]() -> const Palette& { return *eye.palette; };
    if (!d.trouble.isEmpty() || pixels.isEmpty() || !d.context.makeCurrent(&d.surface)) return {};
    auto& target = scene.moves ? d.moving : d.still;
    if (!target || target->size() != pixels) {
        QOpenGLFramebufferObjectFormat format;
        format.setSamples(scene.moves ? 0 : 4);
        format.setAttachment(QOpenGLFramebufferObject::CombinedDepthStencil);
        target = std::make_unique<QOpenGLFramebufferObject>(pixels, format);
    }
    auto* gl = d.gl;
    const QMatrix4x4 view = camera.view(), projection = camera.projection(pixels, scene.bounds);
    const float fratio = static_cast<float>(ratio);
    const double size = std::max(1e-6, scene.bounds.diagonal());
    const Vec3 middle = scene.bounds.center();
    const float reach = static_cast<float>(size * 0.10), margin = 2 * reach;
    const QVector4D box(static_cast<float>(scene.bounds.empty() ? -1 : scene.bounds.low.x) - margin,
                        static_cast<float>(scene.bounds.empty() ? -1 : scene.bounds.low.y) - margin,
                        static_cast<float>(scene.bounds.size().x) + 2 * margin,
                        static_cast<float>(scene.bounds.size().y) + 2 * margin);
    const bool bed = scene.bed && !scene.bounds.empty();
    d.moves = scene.moves;
    if (bed) d.draw_shade(scene, box, reach);

    target->bind();
    gl->glViewport(0, 0, pixels.width(), pixels.height());
    gl->glClearColor(colour().paper.redF(), colour().paper.greenF(), colour().paper.blueF(), 1);
    gl->glDepthMask(GL_TRUE);
    gl->glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
    gl->glEnable(GL_DEPTH_TEST);
    gl->glDepthFunc(GL_LEQUAL);
    gl->glEnable(GL_BLEND);
    gl->glBlendFuncSeparate(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA, GL_ONE, GL_ONE);
    if (bed && camera.direction().z < 0) {
        gl->glDepthMask(GL_FALSE);  // the body stands on it: nothing of it may vanish in the sheet
        d.draw_bed(view, projection, QVector2D(static_cast<float>(middle.x), static_cast<float>(middle.y)),
                   static_cast<float>(size * 1.1));
        gl->glDepthMask(GL_TRUE);
    }
    d.cut(scene, view, true);
    int bodies = 0;
    for (const SceneItem& item : scene.items) {
        using Look = SceneItem::Look;
        if (!item.is_solid()) continue;
        const bool ghost = item.look == Look::ghost;
        if (ghost || (scene.see_through && !item.lies_on_body())) {
            gl->glDepthMask(GL_FALSE);
            d.draw_body(item, view, projection, colour().body, ghost ? 0.14f : 0.22f, 0, fratio);
            gl->glDepthMask(GL_TRUE);
        } else {
            // Faces of the body drawn again would flicker with it, were they not pulled forward a little.
            if (item.lies_on_body()) {
                gl->glEnable(GL_POLYGON_OFFSET_FILL);
                gl->glPolygonOffset(-2, -2);
            }
            d.draw_body(item, view, projection,
                        item.look == Look::idle     ? colour().body_idle
                        : item.look == Look::fault  ? colour().brick
                        : item.look == Look::picked ? colour().fuchsia
                        : item.chosen               ? colour().body_chosen
                                                    : colour().body,
                        item.look == Look::picked ? 0.7f : 1.0f, 0, fratio);
            gl->glDisable(GL_POLYGON_OFFSET_FILL);
            if (scene.section && !item.lies_on_body()) d.draw_cap(scene, item, bodies++, view, projection, fratio);
        }
        d.draw_lines(item, view, projection,
                     item.chosen         ? colour().fuchsia
                     : scene.see_through ? colour().ink
                                         : colour().crease,
                     item.chosen ? 0.9f
                     : ghost     ? 0.3f
                                 : 0.72f,
                     0, 0);
    }
    for (const SceneItem& item : scene.items)
        if (item.is_lines()) {
            // Wide lines are not to be had everywhere: drawn again a pixel beside, they are wide enough.
            const QColor tint = item.look == SceneItem::Look::rim    ? colour().ochre
                                : item.look == SceneItem::Look::mark ? colour().brick
                                                                     : colour().fuchsia;
            auto draw = [&](float alpha) {
                for (const auto& [x, y] : {std::pair{0, 0}, {1, 0}, {-1, 0}, {0, 1}, {0, -1}})
                    d.draw_lines(item, view, projection, tint, alpha, 0, 0,
                                 {2.0f * static_cast<float>(x * ratio / pixels.width()),
                                  2.0f * static_cast<float>(y * ratio / pixels.height())});
            };
            if (item.look == SceneItem::Look::mark) {  // what lies behind the body shows through, faintly
                gl->glDisable(GL_DEPTH_TEST);
                draw(0.08f);
                gl->glEnable(GL_DEPTH_TEST);
            }
            draw(1.0f);
        }
    d.cut(scene, view, false);
    // Cutters last, see-through: first their far side, then the near one.
    gl->glEnable(GL_CULL_FACE);
    for (const SceneItem& item : scene.items) {
        using Look = SceneItem::Look;
        if (item.is_solid() || item.is_lines()) continue;
        const QColor tint = item.chosen ? colour().fuchsia : colour().petrol;
        const int hatch = item.look == Look::difference     ? 1
                          : item.look == Look::intersection ? 2
                          : item.look == Look::other        ? 3
                                                            : 0;
        gl->glDepthMask(GL_FALSE);
        const double mm = camera.mm_per_pixel(middle, pixels);
        const float period = item.look == Look::union_of
                                 ? 0.0f
                                 : static_cast<float>(mm * ratio * (item.look == Look::intersection ? 4 : 9));
        // What lies behind the body is drawn fainter, and without its hatch.
        for (const bool behind : {true, false}) {
            const float strength = behind ? 0.4f : 1.0f;
            gl->glDepthFunc(behind ? GL_GREATER : GL_LEQUAL);
            gl->glCullFace(GL_FRONT);
            d.draw_body(item, view, projection, tint, strength * (item.chosen ? 0.08f : 0.03f), 0, fratio);
            gl->glCullFace(GL_BACK);
            d.draw_body(item, view, projection, tint, strength * (item.chosen ? 0.13f : 0.05f),
                        item.chosen && !behind ? hatch : 0, fratio);
            d.draw_lines(item, view, projection, tint, strength * (item.chosen ? 0.95f : 0.4f), period,
                         item.look == Look::difference ? 0.62f
                         : item.look == Look::other    ? 0.82f
                                                       : 0.4f);
        }
        gl->glDepthFunc(GL_LEQUAL);
        gl->glDepthMask(GL_TRUE);
    }
    gl->glDisable(GL_CULL_FACE);
    target->release();
    QImage image = gives_up ? QImage() : target->toImage();
    d.context.doneCurrent();
    image.setDevicePixelRatio(ratio);
    return image;
}

}  // namespace anvil::app
