# Rooms and what each of them may include stand in tools/layers.txt, and nowhere else.
set_property(DIRECTORY ${PROJECT_SOURCE_DIR} APPEND PROPERTY CMAKE_CONFIGURE_DEPENDS ${PROJECT_SOURCE_DIR}/tools/layers.txt)
file(STRINGS ${PROJECT_SOURCE_DIR}/tools/layers.txt virga_rows REGEX "^[a-z_/]+:")
set(VIRGA_ROOMS)
foreach(row ${virga_rows})
    string(REGEX MATCH "^[a-z_/]+" room ${row})
    string(REGEX REPLACE "^[a-z_/]+: *" "" below ${row})
    string(REPLACE " " ";" VIRGA_BELOW_${room} "${below}")
    list(APPEND VIRGA_ROOMS ${room})
endforeach()

# virga_add_rooms(TOP): the folders of the rooms in TOP/, the lowest first.
function(virga_add_rooms top)
    foreach(room ${VIRGA_ROOMS})
        if(room MATCHES "^${top}/")
            string(REGEX REPLACE "^${top}/" "" folder ${room})
            add_subdirectory(${folder})
        endif()
    endforeach()
endfunction()

# virga_add_library(ROOM SOURCES file... DEPENDS target...): one static library for one room. core/base becomes virga_core_base.
# DEPENDS names what others made; rooms are linked that its row in tools/layers.txt names.
function(virga_add_library room)
    cmake_parse_arguments(ARG "" "" "SOURCES;DEPENDS" ${ARGN})
    string(REPLACE "/" "_" name "virga_${room}")
    add_library(${name} STATIC ${ARG_SOURCES})
    target_include_directories(${name} PUBLIC ${PROJECT_SOURCE_DIR})
    foreach(below ${VIRGA_BELOW_${room}})
        string(REPLACE "/" "_" below "virga_${below}")
        target_link_libraries(${name} PUBLIC ${below})
    endforeach()
    target_link_libraries(${name} PUBLIC ${ARG_DEPENDS})
    virga_warnings(${name})
    # Numbers that lose something on the way; clang counts more as such, much of it meant.
    target_compile_options(${name} PRIVATE $<$<CXX_COMPILER_ID:GNU>:-Wconversion -Wno-sign-conversion>)
    # The window and the command line call what computes and do little themselves; they compile a third faster so.
    if(room MATCHES "^(app/|cli)" AND NOT room MATCHES "^app/(services|playback)$")
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
