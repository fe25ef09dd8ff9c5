<?php
/*
Plugin Name: Field Locker
Version: 1.1.0
*/
add_action('init', fn () => register_post_type('field_set', ['public' => false, 'label' => 'Field sets']));
