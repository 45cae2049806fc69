#include "core/combine/settle_options.h"

namespace anvil {

std::string_view word(ContactRule rule) { return rule == ContactRule::join ? "join" : "separate"; }

std::optional<ContactRule> contact_rule_from(std::string_view w) {
    for (const ContactRule rule : {ContactRule::separate, ContactRule::join})
        if (word(rule) == w) return rule;
    return std::nullopt;
}

}  // namespace anvil
