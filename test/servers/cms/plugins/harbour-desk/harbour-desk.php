<?php
/*
Plugin Name: Harbour Desk
Version: 3.2.1
*/
