<?php
// Files as they are, everything else to the CMS.
$path = rawurldecode(parse_url($_SERVER['REQUEST_URI'], PHP_URL_PATH));
if ($path !== '/' && is_file($_SERVER['DOCUMENT_ROOT'] . $path) && !str_ends_with($path, '.php')) return false;
$_SERVER['SCRIPT_NAME'] = '/index.php';
require $_SERVER['DOCUMENT_ROOT'] . (is_file($_SERVER['DOCUMENT_ROOT'] . $path) && $path !== '/' ? $path : '/index.php');
