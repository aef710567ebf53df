#!/usr/bin/env perl
# The smallest useful adapter, in Perl and with nothing installed: an app of three screens and its back stack, driven over the
# standard streams. It tells only its ladder; Wise Ladder says what it therefore cannot compare.
use strict;
use warnings;
use JSON::PP;

my $json = JSON::PP->new->utf8->canonical;
my @stack;

sub screen { my ($name, $id) = @_; return { screen => $name, with => defined $id ? { id => $id + 0 } : {} } }

sub tap {
    my ($name, $with) = @_;
    my $top = $stack[-1];
    if    ($name eq 'hive'      && $top->{screen} eq 'hives')  { push @stack, screen('hive', $with->{id}) }
    elsif ($name eq 'frames'    && $top->{screen} eq 'hive')   { $stack[-1] = screen('frames', $top->{with}{id}) }
    elsif ($name eq 'hive look' && $top->{screen} eq 'frames') { $stack[-1] = screen('hive', $top->{with}{id}) }
    else                                                       { return JSON::PP::false }
    return JSON::PP::true;
}

my %methods = (
    hello => sub { return { protocol => 1, app => 'Combfield', does => [ 'launch', 'tap', 'back', 'header back' ],
                            tells => ['ladder'], begins => JSON::PP::true, advances => JSON::PP::true } },
    begin   => sub { @stack = (); return { lacks => [ keys %{ $_[0]{facts} } ] } },
    advance => sub { return { clock => $_[0]{by} } },
    where   => sub { return @stack ? { phase => 'open', ladder => [@stack] } : { phase => 'outside' } },
    do      => sub {
        my $event = $_[0]{event};
        if ($event eq 'launch') { @stack = ( screen('hives') ) }
        elsif (!@stack || ( $event eq 'header back' && @stack == 1 )) { return { done => JSON::PP::false } }
        elsif ($event eq 'tap') { return { done => tap( $_[0]{name}, $_[0]{with} ) } }
        else                    { pop @stack }
        return { done => JSON::PP::true };
    },
);

$| = 1;
while ( my $line = <STDIN> ) {
    my $call   = $json->decode($line);
    my $method = $methods{ $call->{method} };
    my %answer = ( jsonrpc => '2.0', id => $call->{id} );
    if   ($method) { $answer{result} = $method->( $call->{params} ) }
    else           { $answer{error}  = { code => -32601, message => "no method $call->{method}" } }
    print $json->encode( \%answer ), "\n";
}
