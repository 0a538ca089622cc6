@echo off
rem Starts Keen Fold from where it was unpacked. It builds nothing and writes nothing. Not tried on Windows yet.
setlocal DisableDelayedExpansion
set "KEENFOLD_JAR=%~dp0..\lib\keenfold\keenfold.jar"
set "KEENFOLD_JAVA=java.exe"
if defined JAVA_HOME set "KEENFOLD_JAVA=%JAVA_HOME%\bin\java.exe"
if not exist "%KEENFOLD_JAR%" goto :incomplete
"%KEENFOLD_JAVA%" -version >nul 2>nul
if errorlevel 1 goto :nojava
"%KEENFOLD_JAVA%" -Duser.timezone=UTC -XX:+UseSerialGC -Xshare:auto %KEENFOLD_JAVA_OPTIONS% -jar "%KEENFOLD_JAR%" %*
exit /b %ERRORLEVEL%

:incomplete
echo keenfold: "%KEENFOLD_JAR%" is missing: unpack the archive again 1>&2
exit /b 3

:nojava
echo keenfold: there is no Java here: install version 17 or newer, or set JAVA_HOME 1>&2
exit /b 3
