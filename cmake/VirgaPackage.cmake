# Install rules and the .deb. Manual page and completion come from the program's own description of its commands.
set(generated ${PROJECT_BINARY_DIR}/packaging)
add_custom_command(OUTPUT ${generated}/virga-cli.1.gz ${generated}/virga-cli
    COMMAND ${CMAKE_COMMAND} -E make_directory ${generated}
    COMMAND sh -c "'$<TARGET_FILE:virga-cli>' --manual | gzip -9n > '${generated}/virga-cli.1.gz'"
    COMMAND sh -c "'$<TARGET_FILE:virga-cli>' --bash-completion > '${generated}/virga-cli'"
    DEPENDS virga-cli VERBATIM COMMENT "Manual page and completion of virga-cli")
add_custom_command(OUTPUT ${generated}/changelog.gz
    COMMAND ${CMAKE_COMMAND} -E make_directory ${generated}
    COMMAND sh -c "gzip -9nc '${PROJECT_SOURCE_DIR}/packaging/changelog' > '${generated}/changelog.gz'"
    DEPENDS ${PROJECT_SOURCE_DIR}/packaging/changelog VERBATIM)
set(pages ${generated}/virga-cli.1.gz)
if(VIRGA_GUI)
    list(APPEND pages ${generated}/virga.1.gz)
    add_custom_command(OUTPUT ${generated}/virga.1.gz
        COMMAND ${CMAKE_COMMAND} -E make_directory ${generated}
        COMMAND sh -c "QT_QPA_PLATFORM=offscreen '$<TARGET_FILE:virga>' --manual | gzip -9n > '${generated}/virga.1.gz'"
        DEPENDS virga VERBATIM COMMENT "Manual page of virga")
endif()
add_custom_target(virga_manuals ALL DEPENDS ${pages} ${generated}/virga-cli ${generated}/changelog.gz)

install(TARGETS virga-cli RUNTIME DESTINATION ${CMAKE_INSTALL_BINDIR})
install(FILES packaging/copyright DESTINATION share/doc/virga)
install(FILES ${generated}/changelog.gz DESTINATION share/doc/virga)
install(FILES ${generated}/virga-cli.1.gz DESTINATION share/man/man1)
install(FILES ${generated}/virga-cli DESTINATION share/bash-completion/completions)
install(FILES core/project/project.schema.json core/project/recipe.schema.json core/export/export-preset.schema.json
    core/export/movement-data.schema.json DESTINATION share/virga/schemas)
if(VIRGA_GUI)
    install(TARGETS virga RUNTIME DESTINATION ${CMAKE_INSTALL_BINDIR})
    install(FILES ${generated}/virga.1.gz DESTINATION share/man/man1)
    install(FILES packaging/virga.desktop DESTINATION share/applications)
    install(FILES packaging/virga.metainfo.xml DESTINATION share/metainfo RENAME org.virga.virga.metainfo.xml)
    install(FILES packaging/virga-mime.xml DESTINATION share/mime/packages RENAME virga.xml)
    install(FILES app/style/icons/virga.svg DESTINATION share/icons/hicolor/scalable/apps)
endif()
set(CPACK_GENERATOR DEB)
set(CPACK_PACKAGE_NAME virga)
set(CPACK_PACKAGE_CONTACT "The Virga developers <virga@example.org>")
set(CPACK_PACKAGE_DESCRIPTION_SUMMARY "make a cut feel like one continuous camera move")
set(CPACK_PACKAGE_DESCRIPTION "Virga gives both sides of a cut a keyframed zoom, spin, slide, push or
 warp that carries through it, fills the frame's edges with tiled copies, blurs by a
 shutter angle in linear light, and checks that the movement really carries on.
 The package has the window (virga) and the command line (virga-cli).")
set(CPACK_STRIP_FILES ON)
set(CPACK_PACKAGING_INSTALL_PREFIX /usr)
set(CPACK_DEBIAN_PACKAGE_SHLIBDEPS ON)
set(CPACK_DEBIAN_PACKAGE_DEPENDS "libqt6svg6") # a plug-in, which no program is linked to
set(CPACK_DEBIAN_PACKAGE_SECTION video)
set(CPACK_DEBIAN_FILE_NAME DEB-DEFAULT)
set(CPACK_INSTALL_DEFAULT_DIRECTORY_PERMISSIONS OWNER_READ OWNER_WRITE OWNER_EXECUTE GROUP_READ GROUP_EXECUTE WORLD_READ WORLD_EXECUTE)
include(CPack)
