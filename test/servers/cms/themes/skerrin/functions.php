<?php
add_action('after_setup_theme', function () { register_nav_menu('main', 'Main'); add_theme_support('custom-logo'); add_theme_support('post-thumbnails'); });
add_action('widgets_init', fn () => register_sidebar(['id' => 'footer', 'name' => 'Footer']));
