#!/usr/bin/env bash
# SPDX-License-Identifier: MIT
# The libraries are taken away: installed into fresh prefixes, whole and the portable one alone, and the programs of docs/programs.md
# built on them through pkg-config, find_package and add_subdirectory, in C and C++. What the shared ones show is what
# abi/ keeps.
# shellcheck source=tests/shell.sh
. "$(dirname "$0")/shell.sh"
cd "$work" || exit 1

# block LANGUAGE: the one block of docs/programs.md in it
block() {
    awk -v start="\`\`\`$1" '$0 == start { on = 1; next } /^```$/ { on = 0 } on' "$VERDITE_SOURCE/docs/programs.md"
}
block c >hive.c
block cpp >limit.cpp
block cmake >CMakeLists.txt
for file in hive.c limit.cpp CMakeLists.txt; do [ -s "$file" ] || fail "docs/programs.md has no $file"; done

# works DIR: both programs, on a bench of their own
works() {
    rm -rf bracken
    cp -r "$VERDITE_SOURCE/benches/bracken" bracken
    rm -f bracken/state.json
    run 0 "$1/hive"
    says "verified: 21.0 kg"
    run 0 "$1/limit"
    says "20,5 kg: fits"
    says "20.55: limit: \"20.55 kg\" is between two steps"
    says "out of range"
}

# The portable library's files are the same both times: they are compiled once.
export CCACHE_DIR=$work/compiled CCACHE_BASEDIR=$work CCACHE_DEPEND=1 CCACHE_NOCOMPRESS=1
build=(cmake -G Ninja -DCMAKE_BUILD_TYPE=None -DVERDITE_TESTS=OFF -DCMAKE_C_COMPILER_LAUNCHER=ccache)
run 0 "${build[@]}" -S "$VERDITE_SOURCE" -B whole -DCMAKE_INSTALL_PREFIX="$work/elsewhere"
run 0 cmake --build whole
run 0 cmake --install whole --prefix "$work/prefix" # moved: nothing in it may name its first place
run 0 "${build[@]}" -S "$VERDITE_SOURCE" -B alone -DVERDITE_HOST=OFF -DVERDITE_SHARED=ON
run 0 cmake --build alone
run 0 cmake --install alone --prefix "$work/portable"
for header in host posix sim reach; do
    [ ! -e "portable/include/verdite/$header.h" ] || fail "the portable library came with $header.h"
done
grep -rq "$work/elsewhere\|$VERDITE_SOURCE" prefix/lib/pkgconfig prefix/lib/cmake portable/lib/pkgconfig portable/lib/cmake &&
    fail "a path of the machine that built it stands in what was installed"
for file in bin/verdite bin/verdite-bench share/man/man1/verdite.1 share/verdite/models/dowel.yaml \
    share/verdite/model.schema.json share/verdite/result.schema.json share/verdite/70-verdite.rules share/zsh/vendor-completions/_verdite \
    share/bash-completion/completions/verdite-bench share/fish/vendor_completions.d/verdite.fish; do
    [ -e "prefix/$file" ] || fail "$file was not installed"
done
run 0 prefix/bin/verdite model
says "dowel"

# what is shown, and under which name it is asked for
for library in verdite verdite-host; do
    nm -D --defined-only "prefix/lib/lib$library.so" | awk '{ print $3 }' | LC_ALL=C sort >"$library.names"
    diff -u "$VERDITE_SOURCE/abi/$library.names" "$library.names" >shown ||
        fail "lib$library shows something else than abi/$library.names: $(cat shown)"
    objdump -p "prefix/lib/lib$library.so" | grep -q "SONAME *lib$library.so.0.1" || fail "lib$library has no soname"
done

# pkg-config
export PKG_CONFIG_PATH=$work/prefix/lib/pkgconfig
mkdir by-pkg-config
read -ra host < <(pkg-config --cflags --libs verdite-host)
read -ra portable < <(PKG_CONFIG_PATH=$work/portable/lib/pkgconfig pkg-config --cflags --libs verdite)
run 0 cc -Wall -Wextra -Werror hive.c -o by-pkg-config/hive "${host[@]}" -Wl,-rpath,"$work/prefix/lib"
run 0 c++ -Wall -Wextra -Werror limit.cpp -o by-pkg-config/limit "${portable[@]}" -Wl,-rpath,"$work/portable/lib"
works by-pkg-config

# the same, linked statically: nothing but what it compiles in tells where the models are
read -ra static < <(pkg-config --static --cflags --libs verdite-host | sed 's/-lverdite-host/-l:libverdite-host.a/; s/-lverdite\>/-l:libverdite.a/')
models=$(pkg-config --variable=models verdite-host)
run 0 cc -Wall -Wextra -Werror "-DVERDITE_MODELS_FOLDER=\"$models\"" hive.c "$(pkg-config --variable=models_source verdite-host)" \
    -o by-pkg-config/hive "${static[@]}"
if ldd by-pkg-config/hive | grep -q libverdite; then fail "it is not linked statically"; fi
works by-pkg-config

# find_package, static and shared
mkdir use
cp hive.c limit.cpp CMakeLists.txt use
run 0 cmake -G Ninja -S use -B by-package -DCMAKE_PREFIX_PATH="$work/prefix"
run 0 cmake --build by-package
works by-package
sed -i 's/verdite::verdite-host/verdite::verdite-host-shared/; s/verdite::verdite)/verdite::verdite-shared)/' use/CMakeLists.txt
run 0 cmake -G Ninja -S use -B by-package-shared -DCMAKE_PREFIX_PATH="$work/prefix"
run 0 cmake --build by-package-shared
works by-package-shared

# add_subdirectory compiles everything once more: ./run package tries it
if [ -n "${TRY_FOLDER:-}" ]; then
    sed 's/^find_package.*/add_subdirectory(verdite)/' CMakeLists.txt >use/CMakeLists.txt
    ln -s "$VERDITE_SOURCE" use/verdite
    run 0 cmake -G Ninja -S use -B by-folder
    run 0 cmake --build by-folder --target hive limit
    works by-folder
fi
done_testing
