// Rows that are switched together, under a name.
#include "core/job/kinds/kind.h"

namespace anvil {
namespace {

const RegisterKind group_registered({.word = "group",
                                     .of = KindClass::group,
                                     .says = "Rows with one switch and one operation",
                                     .fields = {{.name = "name",
                                                 .type = Field::Type::text,
                                                 .usual = std::string("group"),
                                                 .label = "name",
                                                 .says = "what the rows are together"}}});

}  // namespace
}  // namespace anvil
