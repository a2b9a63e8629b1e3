# virga_add_library(ROOM SOURCES file... DEPENDS target...): one static library for one room. core/base becomes virga_core_base,
# DEPENDS names rooms in the same way.
# Only rooms named in DEPENDS are linked, so the link repeats the layer rule of tools/layers.txt.
function(virga_add_library room)
    cmake_parse_arguments(ARG "" "" "SOURCES;DEPENDS" ${ARGN})
    string(REPLACE "/" "_" name "virga_${room}")
    add_library(${name} STATIC ${ARG_SOURCES})
    target_include_directories(${name} PUBLIC ${PROJECT_SOURCE_DIR})
    foreach(dependency ${ARG_DEPENDS})
        string(REGEX REPLACE "^((core|app)/.*|cli)$" "virga_\\1" dependency ${dependency})
        string(REPLACE "/" "_" dependency ${dependency})
        target_link_libraries(${name} PUBLIC ${dependency})
    endforeach()
    virga_warnings(${name})
endfunction()

function(virga_warnings target)
    target_compile_options(${target} PRIVATE -Wall -Wextra -Wshadow -Wno-missing-field-initializers
        -Wno-restrict # g++ 12 sees overlaps in std::string where there are none (GCC bug 105651)
        -ffp-contract=off)
    if(VIRGA_WERROR)
        target_compile_options(${target} PRIVATE -Werror)
    endif()
endfunction()
