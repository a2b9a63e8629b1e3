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
    # Numbers that lose something on the way; clang counts more as such, much of it meant.
    target_compile_options(${name} PRIVATE $<$<CXX_COMPILER_ID:GNU>:-Wconversion -Wno-sign-conversion>)
    # The window and the command line call what computes and do little themselves; they compile a third faster so.
    if(room MATCHES "^(app/|cli)" AND NOT room STREQUAL "app/background")
        target_compile_options(${name} PRIVATE -O1)
    endif()
    if(room IN_LIST VIRGA_LIGHT_ROOMS)
        target_compile_options(${name} PRIVATE -O1)
    endif()
    if(room IN_LIST VIRGA_COMPUTING_ROOMS)
        target_compile_options(${name} PRIVATE -O1)
    endif()
endfunction()

function(virga_warnings target)
    target_compile_options(${target} PRIVATE -Wall -Wextra -Wshadow -Wno-missing-field-initializers
        $<$<CXX_COMPILER_ID:GNU>:-Wno-restrict> # g++ 12 sees overlaps in std::string where there are none (GCC bug 105651)
        -ffp-contract=off)
    if(CMAKE_UNITY_BUILD) # files of a room compiled together: a type of one file in the class of another is of the same file
        target_compile_options(${target} PRIVATE $<$<CXX_COMPILER_ID:GNU>:-Wno-subobject-linkage>)
    endif()
    if(VIRGA_WERROR)
        target_compile_options(${target} PRIVATE -Werror)
    endif()
endfunction()

# Code that runs once for a file or a command and has JSON's or CLI11's templates in every line, and tests: optimising it
# takes longest and is seen nowhere. The file of the project takes half as long to compile so.
set(VIRGA_LIGHTLY -O1 CACHE STRING "How such files are optimised; under a sanitizer not at all")
# Where nothing else is optimised (asan: it compiles in half the time), what the tests spend their time in still is.
set(VIRGA_LIGHT_ROOMS "" CACHE STRING "Rooms that compute little and are optimised less for every day: they compile a third faster")
set(VIRGA_COMPUTING_ROOMS "" CACHE STRING "Rooms optimised all the same")
function(virga_build_lightly)
    set_source_files_properties(${ARGN} PROPERTIES COMPILE_OPTIONS ${VIRGA_LIGHTLY})
endfunction()
