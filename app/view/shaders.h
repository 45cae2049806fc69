#pragma once

// What the graphics card is told to do for each corner and each pixel, by what is drawn: bodies, lines, the filled
// planes of a section, the bed, and the shade of contact on it.
namespace anvil::app::shaders {

// Soft light from both sides: a warm key from the upper left of the viewer, a cool fill from the right, and a dim
// light from below, so that no face is black and no two neighbours look alike.
inline constexpr char body_vertex[] = R"(#version 330 core
layout(location = 0) in vec3 position;
layout(location = 1) in vec4 tint;
uniform mat4 model_view, projection;
uniform vec4 section;     // in eye space: what is below 0 is cut away
out vec3 eye_position;
out vec4 face_tint;
void main() {
    face_tint = tint;
    vec4 p = model_view * vec4(position, 1.0);
    gl_ClipDistance[0] = dot(section, p);
    eye_position = p.xyz;
    gl_Position = projection * p;
})";
inline constexpr char body_fragment[] = R"(#version 330 core
in vec3 eye_position;
in vec4 face_tint;
uniform vec4 colour;
uniform vec3 up_in_eye;
uniform float tinted;     // 1 where the faces have colours of their own
uniform int hatch;        // 0 none, 1 diagonal, 2 crossed, 3 dots
uniform float pixel_ratio;
out vec4 fragment;
void main() {
    vec3 n = normalize(cross(dFdx(eye_position), dFdy(eye_position)));
    if (dot(n, eye_position) > 0.0) n = -n;
    float key = max(dot(n, normalize(vec3(-0.45, 0.65, 0.62))), 0.0);
    float fill = max(dot(n, normalize(vec3(0.75, 0.10, 0.55))), 0.0);
    float sky = 0.5 + 0.5 * dot(n, up_in_eye);
    vec3 light = vec3(0.30) + vec3(0.56, 0.54, 0.50) * key + vec3(0.20, 0.22, 0.25) * fill + vec3(0.16) * sky;
    float alpha = colour.a;
    if (hatch > 0) {
        vec2 q = gl_FragCoord.xy / pixel_ratio;
        float a = step(mod(q.x + q.y, 9.0), 1.6), b = step(mod(q.x - q.y, 9.0), 1.6);
        vec2 d = mod(q, 8.0) - 4.0;
        float on = hatch == 1 ? a : hatch == 2 ? max(a, b) : step(dot(d, d), 2.2);
        alpha = mix(alpha, min(1.0, alpha * 3.4 + 0.12), on);
    }
    vec3 rgb = mix(colour.rgb, face_tint.rgb, tinted * face_tint.a);
    // The inside of a surface, as seen through a hole, looks otherwise than its outside.
    if (!gl_FrontFacing && colour.a > 0.99) rgb = mix(rgb, vec3(0.50, 0.36, 0.26), 0.6);
    fragment = vec4(min(rgb * light, vec3(1.0)), alpha);
})";
inline constexpr char line_vertex[] = R"(#version 330 core
layout(location = 0) in vec4 end;
uniform mat4 model_view, projection;
uniform float lift;
uniform vec2 shift;
uniform vec4 section;
out float along;
void main() {
    along = end.w;
    vec4 p = model_view * vec4(end.xyz, 1.0);
    gl_ClipDistance[0] = dot(section, p);
    p.xyz *= 1.0 - lift;
    gl_Position = projection * p;
    gl_Position.xy += shift * gl_Position.w;
})";
inline constexpr char line_fragment[] = R"(#version 330 core
in float along;
uniform vec4 colour;
uniform vec2 dash;        // period and drawn share in mm; period 0: solid
out vec4 fragment;
void main() {
    if (dash.x > 0.0 && mod(along, dash.x) > dash.x * dash.y) discard;
    fragment = colour;
})";
inline constexpr char cap_vertex[] = R"(#version 330 core
layout(location = 0) in vec3 position;
uniform mat4 model_view, projection;
void main() { gl_Position = projection * (model_view * vec4(position, 1.0)); })";
inline constexpr char cap_fragment[] = R"(#version 330 core
uniform vec3 ground, ink;
uniform vec2 across;      // direction over the strokes of the hatch, on the screen
uniform float pixel_ratio;
out vec4 fragment;
void main() {
    float on = step(mod(dot(gl_FragCoord.xy / pixel_ratio, across), 7.0), 1.1);
    fragment = vec4(mix(ground, ink, 0.55 * on), 1.0);
})";
inline constexpr char bed_vertex[] = R"(#version 330 core
layout(location = 0) in vec3 position;
uniform mat4 model_view, projection;
out vec2 place;
void main() {
    place = position.xy;
    gl_Position = projection * (model_view * vec4(position, 1.0));
})";
inline constexpr char bed_fragment[] = R"(#version 330 core
in vec2 place;
uniform vec2 middle;      // of the sheet, mm
uniform float radius;     // of the sheet, mm
uniform float pitch;      // of its ruling, mm
uniform sampler2D shades; // of contact
uniform vec4 shade_box;   // low x, low y, size x, size y of that
uniform vec3 paper, ruling, dark;
out vec4 fragment;
float ruled(float step_mm) {
    vec2 g = abs(fract(place / step_mm - 0.5) - 0.5) / fwidth(place / step_mm);
    return 1.0 - min(min(g.x, g.y), 1.0);
}
void main() {
    float fade = 1.0 - smoothstep(0.55, 1.0, length(place - middle) / radius);
    vec2 q = (place - shade_box.xy) / shade_box.zw;
    bool near = all(greaterThan(q, vec2(0.0))) && all(lessThan(q, vec2(1.0)));
    float shade = near ? texture(shades, q).r : 0.0;
    float line = max(0.35 * ruled(pitch), 0.75 * ruled(pitch * 10.0));
    vec3 c = mix(paper, ruling, line);
    fragment = vec4(mix(c, dark, shade), fade);
})";
// The shade of contact, once for all pictures of a scene.
inline constexpr char shade_vertex[] = R"(#version 330 core
layout(location = 0) in vec3 position;
out vec2 at;
void main() {
    at = position.xy * 0.5 + 0.5;
    gl_Position = vec4(position.xy, 0.0, 1.0);
})";
inline constexpr char shade_fragment[] = R"(#version 330 core
in vec2 at;
uniform sampler2D heights;
uniform vec2 reach;       // how far the shade spreads, as a share of the map
out vec4 fragment;
void main() {
    float shade = 0.0;
    for (int i = 0; i < 48; ++i) {
        float a = 2.39996 * float(i), r = sqrt((float(i) + 0.5) / 48.0);
        vec2 q = at + r * reach * vec2(cos(a), sin(a));
        if (any(lessThan(q, vec2(0.0))) || any(greaterThan(q, vec2(1.0)))) continue;
        float h = texture(heights, q).r;          // 0 on the bed, 1 at the reach or more above it
        shade += (1.0 - h) * (1.0 - 0.5 * r);
    }
    fragment = vec4(min(0.55, shade / 48.0 * 0.9), 0.0, 0.0, 1.0);
})";
inline constexpr char height_fragment[] = R"(#version 330 core
in vec3 eye_position;
uniform float reach;
out vec4 fragment;
void main() { fragment = vec4(clamp(eye_position.z / reach, 0.0, 1.0), 0.0, 0.0, 1.0); })";

}  // namespace anvil::app::shaders
