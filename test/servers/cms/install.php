<?php
// Installs one site through the CMS's own interface, then fills it: php install.php SITE-FOLDER dev|live ADDRESS
define('WP_INSTALLING', true);
require __DIR__ . '/begin.php';
require ABSPATH . 'wp-admin/includes/upgrade.php';
wp_install($seed === 'dev' ? 'Skerrin Ferries (development)' : 'Skerrin Ferries', 'keeper', $seed . '@skerrin.example', true, '', 'oars-and-anchors');
update_option('siteurl', $address);
update_option('home', $address);
update_option('permalink_structure', '/%postname%/');
update_option('active_plugins', ['harbour-desk/harbour-desk.php', 'crossing-board/crossing-board.php', 'field-locker/field-locker.php', 'step-by-step/step-by-step.php']);
update_option('template', 'skerrin');
update_option('stylesheet', 'skerrin-isles');
update_option('crossing_board_version', '2.4.0');
