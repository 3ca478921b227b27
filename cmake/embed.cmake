# Writes the text file IN as the C++ string NAME into OUT. GCC and Clang have no limit on a literal's length.
file(READ ${IN} text)
file(WRITE ${OUT} "#include <string_view>\nnamespace palinform { extern const std::string_view ${NAME}; const std::string_view ${NAME} = R\"__palinform__(${text})__palinform__\"; }\n")
