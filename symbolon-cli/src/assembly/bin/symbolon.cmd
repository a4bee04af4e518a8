@echo off
rem Runs Symbolon. Needs a Java of version 17 or newer: the one in JAVA_HOME, or the java on the PATH.
setlocal
set "LIB=%~dp0..\lib"
set "JAVA=java"
if defined JAVA_HOME set "JAVA=%JAVA_HOME%\bin\java"
"%JAVA%" -Xshare:auto -XX:+UseSerialGC -Dfile.encoding=UTF-8 -Dorg.slf4j.simpleLogger.defaultLogLevel=off %SYMBOLON_JAVA_OPTIONS% -cp "%LIB%\*;%LIB%\demo\*" io.symbolon.cli.Main %*
exit /b %ERRORLEVEL%
