<?php
/*
Plugin Name: Step by Step
Version: 0.9.2
*/
add_action('init', function () { register_post_type('flow', ['public' => false]); register_post_type('flow_step', ['public' => false, 'hierarchical' => false]); });
