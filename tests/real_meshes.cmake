# The meshes of libcgal-demo lie in an archive in the documentation folder; they are unpacked into the build tree.
set(ANVIL_REAL_MESHES ${CMAKE_BINARY_DIR}/real-meshes/data/meshes)
file(GLOB data_archive /usr/share/doc/libcgal-d*/data.tar.gz)
if(data_archive AND NOT EXISTS ${ANVIL_REAL_MESHES})
  list(GET data_archive 0 data_archive)
  file(ARCHIVE_EXTRACT INPUT ${data_archive} DESTINATION ${CMAKE_BINARY_DIR}/real-meshes)
endif()
