// Text out of files stays on its line and moves no terminal.
#include "core/base/plain_text.h"

#include "tests/support/support.h"

using namespace anvil;

TEST_CASE("control characters, and bytes that are no UTF-8, are written as escapes") {
    CHECK(on_one_line("plain, ünder ø ∖ 𝄞") == "plain, ünder ø ∖ 𝄞");
    CHECK(on_one_line("a\nb\r\tc") == "a\\nb\\r\\tc");
    CHECK(on_one_line("\x1b[31mred") == "\\x1b[31mred");
    CHECK(on_one_line(std::string_view("\0", 1)) == "\\x00");
    CHECK(on_one_line("\x7f") == "\\x7f");
    CHECK(on_one_line("a\u202eb\u2066c\u2060d") == "a\\xe2\\x80\\xaeb\\xe2\\x81\\xa6c\u2060d");
    // RFC 3629: a start without its followers, an overlong form, a follower alone, a control of the C1 set.
    CHECK(on_one_line("\xc3") == "\\xc3");
    CHECK(on_one_line("\xc0\xaf") == "\\xc0\\xaf");
    CHECK(on_one_line("\x80") == "\\x80");
    CHECK(on_one_line("\xc2\x9b") == "\\xc2\\x9b");
}

TEST_CASE("what is quoted is cut off between characters") {
    CHECK(in_quotes("abc", 3) == "\"abc\"");
    CHECK(in_quotes("abcd", 3) == "\"abc...\"");
    CHECK(in_quotes("aø", 2) == "\"a...\"");
}
