# Writes the text file IN as a C++ string into OUT. MSVC-style length limits do not matter here: GCC and Clang only.
file(READ ${IN} text)
file(WRITE ${OUT} "#include <string_view>\nnamespace palinform { extern const std::string_view catalogue_json; const std::string_view catalogue_json = R\"__palinform__(${text})__palinform__\"; }\n")
